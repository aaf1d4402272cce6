"""The one shape every error has."""

import json
import math

from django.http import HttpResponse
from ninja import Schema

__all__ = ["PROBLEMS", "Problem", "ProblemItem", "problem_response"]


class ProblemItem(Schema):
    """One thing that is wrong, where, and its numbers for the reader's own units."""

    code: str
    field: str
    message: str
    template: str = ""
    params: dict[str, float | str] = {}


class Problem(Schema):
    """An error answer, after RFC 9457."""

    type: str = "about:blank"
    status: int
    title: str
    errors: list[ProblemItem]


# Declared on every route so that clients know the shape of a refusal.
PROBLEMS: dict[int, type[Problem]] = {400: Problem, 401: Problem, 403: Problem, 404: Problem, 422: Problem}


def problem_response(problem: Problem) -> HttpResponse:
    """Return the problem as JSON that every parser reads."""
    data = problem.model_dump()
    for item in data["errors"]:
        item["params"] = {
            k: v if isinstance(v, str) or math.isfinite(v) else str(v) for k, v in item["params"].items()
        }
    body = json.dumps(data)
    return HttpResponse(body, status=problem.status, content_type="application/problem+json")
