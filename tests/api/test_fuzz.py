"""The API's own schema thrown at it: whatever comes, never a 500 and always the declared shape."""

import json
from uuid import uuid4

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings
from schemathesis.config import SchemathesisConfig

from server.config.mount import api as mounted
from server.config.wsgi import application
from tests.conftest import api_of, make_workshop

CONFIG = SchemathesisConfig.from_dict({"seed": 20261125})
schema = schemathesis.openapi.from_dict(json.loads(json.dumps(mounted.get_openapi_schema())), config=CONFIG)
schema.app = application


@pytest.fixture
def signed_in(db):
    """A workshop with something of everything, and the headers that belong to it."""
    api = api_of(make_workshop("Fuzz yard", f"fuzz-{uuid4().hex[:8]}"))
    api.begin(tag="1")
    api.rough("1", mass_g=2450)
    api.begin(tag="2", state="dry")
    api.post("/yard/logs", {"species": "pear"})
    return api


@schema.exclude(path_regex="account|demo").parametrize()
@settings(
    max_examples=12, deadline=None, derandomize=True, phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)  # fmt: skip
def test_nothing_typed_makes_a_500(case, signed_in):
    path = case.formatted_path.removeprefix("/api")
    query = "&".join(f"{k}={v}" for k, v in (case.query or {}).items())
    sendable = case.body if isinstance(case.body, dict | list | str | int | float | bool) else {}
    answer = signed_in.client.generic(
        case.method.upper(),
        f"/api{path}" + (f"?{query}" if query else ""),
        json.dumps(sendable),
        "application/json",
    )
    assert answer.status_code < 500, answer.content
    if answer.status_code >= 400:
        problem = json.loads(answer.content)
        assert answer.headers["Content-Type"] == "application/problem+json"
        assert problem["errors"] and all(item["message"] for item in problem["errors"])


NASTY = [
    b"",
    b"{",
    b"[]",
    b"null",
    b'"text"',
    b'{"mass_g": NaN}',
    b'{"a":' * 200,
    '{"name": "\ud800"}'.encode("utf-8", "surrogatepass"),
    b"\xff\xfe",
]


@pytest.mark.parametrize("raw", NASTY, ids=range(len(NASTY)))
@pytest.mark.parametrize(
    "path",
    [
        "/pieces",
        "/drying/weigh-ins",
        "/bench/1/done/dry",
        "/bench/reckon/speed",
        "/shop/places",
        "/yard/logs",
        "/yard/outline",
        "/yard/resin",
        "/drying/bulk",
        "/drying/weigh-ins/table",
        "/pieces/cut",
        "/drying/1/turned",
        "/drying/1/split",
    ],
)
def test_bodies_that_are_not_even_json_are_refused_in_words(signed_in, raw, path):
    answer = signed_in.client.post(f"/api{path}", raw, content_type="application/json")
    assert 400 <= answer.status_code < 500
    assert answer.json()["errors"][0]["message"]


@pytest.mark.parametrize("tag", ["%00", "%F0%9F%AA%B5", "..%2F..", "a" * 41, "1%20OR%201=1"])
def test_tags_nobody_wears_are_not_found(signed_in, tag):
    assert signed_in.get(f"/pieces/{tag}").status_code in (404, 422)
