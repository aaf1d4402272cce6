"""Gives every refusal under the API the one shape, whoever refused."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from server.api.problems import Problem, ProblemItem, problem_response

__all__ = ["ProblemShape"]

PREFIX = "/api/"
_WORDS: dict[int, tuple[str, str]] = {
    400: ("bad-request", "That was not understood."),
    403: ("stale-page", "This page is stale; load it again."),
    404: ("not-found", "There is nothing here by that name."),
    405: ("not-allowed", "That cannot be done here."),
    413: ("too-large", "That is too much at once."),
}


class ProblemShape:
    """Turns refusals of the framework (wrong method, stale token, no such route) into problems."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Pass on; reshape what refuses without the shape."""
        answer = self.get_response(request)
        kind = answer.headers.get("Content-Type", "")
        if answer.status_code < 400 or not request.path.startswith(PREFIX) or "problem+json" in kind:
            return answer
        code, words = _WORDS.get(answer.status_code, ("refused", "The server refused that."))
        item = ProblemItem(code=code, field="", message=words)
        shaped = problem_response(Problem(status=answer.status_code, title="Not done", errors=[item]))
        if "Allow" in answer.headers:
            shaped["Allow"] = answer.headers["Allow"]
        return shaped
