"""Sign-in refusals and the workshop of whoever asks."""

from django.http import Http404, HttpRequest, HttpResponse

from server.api.problems import Problem, ProblemItem, problem_response

__all__ = ["locked_out", "no_workshop"]


def locked_out(
    request: HttpRequest, credentials: dict[str, str], *args: object, **kwargs: object
) -> HttpResponse:
    """Answer after too many wrong passwords."""
    text = "Too many wrong tries. Wait a quarter of an hour and try again."
    item = ProblemItem(code="locked", field="password", message=text)
    return problem_response(Problem(status=429, title="Wait a little", errors=[item]))


def no_workshop() -> Http404:
    """Return what to raise when somebody signed in belongs nowhere."""
    return Http404("no workshop")
