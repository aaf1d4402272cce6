"""Builds the API and turns every error into the one problem shape."""

import logging
from collections.abc import Callable
from functools import partial

from django.core.exceptions import PermissionDenied, RequestDataTooBig
from django.core.exceptions import ValidationError as DjangoValidationError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, AuthorizationError, HttpError, ValidationError
from ninja.security import django_auth

from kilncore.errors import CoreError
from server.api.problems import Problem, ProblemItem, problem_response

log = logging.getLogger(__name__)

__all__ = ["make_api"]


def make_api() -> NinjaAPI:
    """Return the API: session sign-in everywhere unless a route opens itself."""
    api = NinjaAPI(title="Yard Kiln", version="1", auth=django_auth, urls_namespace="api", docs_url=None)

    def answer(status: int, title: str, items: list[ProblemItem]) -> HttpResponse:
        return problem_response(Problem(status=status, title=title, errors=items))

    @api.exception_handler(CoreError)
    def core(request: HttpRequest, error: CoreError) -> HttpResponse:
        item = ProblemItem(
            code=error.code,
            field=error.field,
            message=error.message,
            template=error.template,
            params=error.params,
        )
        return answer(422, "That cannot be right", [item])

    @api.exception_handler(ValidationError)
    def shape(request: HttpRequest, error: ValidationError) -> HttpResponse:
        items = [
            ProblemItem(code=row["type"], field=_field(row["loc"]), message=_words(row))
            for row in error.errors
        ]
        return answer(422, "That cannot be right", items)

    @api.exception_handler(DjangoValidationError)
    def rule(request: HttpRequest, error: DjangoValidationError) -> HttpResponse:
        rows = error.message_dict if hasattr(error, "error_dict") else {"": error.messages}
        items = [
            ProblemItem(code="invalid", field=name.replace("__all__", ""), message=text)
            for name, texts in rows.items()
            for text in texts
        ]
        return answer(422, "That cannot be right", items)

    @api.exception_handler(HttpError)
    def plain(request: HttpRequest, error: HttpError) -> HttpResponse:
        stale = error.status_code == 403
        words = "This page is stale; load it again." if stale else str(error)
        item = ProblemItem(code="stale-page" if stale else "bad-request", field="", message=words)
        return answer(error.status_code, "Not understood", [item])

    for kind, (status, title, code, words) in _FIXED.items():
        items = [ProblemItem(code=code, field="", message=words)]
        api.add_exception_handler(kind, partial(_always, answer, status, title, items))

    @api.exception_handler(Exception)
    def broken(request: HttpRequest, error: Exception) -> HttpResponse:
        log.exception("unhandled error at %s", request.path)
        text = "Something broke here. What you typed is still on the screen; try again."
        return answer(500, "Our fault", [ProblemItem(code="broken", field="", message=text)])

    return api


# Errors that always say the same: status, title, code, words.
_FIXED: dict[type[Exception], tuple[int, str, str, str]] = {
    Http404: (404, "Not found", "not-found", "There is nothing here by that name."),
    AuthenticationError: (401, "Not signed in", "signed-out", "Please sign in first."),
    AuthorizationError: (403, "Not allowed", "forbidden", "That is not yours to do."),
    PermissionDenied: (403, "Not allowed", "forbidden", "That is not yours to do."),
    RequestDataTooBig: (413, "Too much", "too-much", "That is more than can be taken in one go."),
}


def _always(
    answer: Callable[[int, str, list[ProblemItem]], HttpResponse],
    status: int,
    title: str,
    items: list[ProblemItem],
    request: HttpRequest,
    error: Exception,
) -> HttpResponse:
    return answer(status, title, items)


def _field(location: tuple[str | int, ...]) -> str:
    names = [str(part) for part in location if part not in ("body", "query", "path", "data", "filters")]
    return ".".join(names)


_PLAIN: dict[str, str] = {
    "missing": "This is still to be filled in.",
    "extra_forbidden": "There is no such field here.",
    "float_parsing": "This wants a number.",
    "float_type": "This wants a number.",
    "int_parsing": "This wants a whole number.",
    "finite_number": "This wants an ordinary number.",
    "datetime_from_date_parsing": "This wants a date.",
    "json_invalid": "That was not readable.",
}


def _words(row: dict[str, object]) -> str:
    kind = str(row["type"])
    if kind in _PLAIN:
        return _PLAIN[kind]
    text = str(row.get("msg", "")).removeprefix("Value error, ")
    return text.replace("Input should be", "It should be") + ("" if text.endswith(".") else ".")
