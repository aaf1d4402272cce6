"""What every test may use: a clean data folder, workshops, signed-in clients."""

import os
import tempfile
from datetime import UTC, datetime, timedelta
from uuid import uuid4

os.environ["KILN_DATA_DIR"] = tempfile.mkdtemp(prefix="yard-kiln-test-")
os.environ.pop("KILN_DEBUG", None)
os.environ.pop("KILN_HTTPS", None)
os.environ["KILN_DEMO"] = "0"
# Playwright's own loop runs in this thread while the database is used from it.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

import pytest


class Api:
    """A signed-in client that speaks JSON and remembers nothing."""

    def __init__(self, client):
        self.client = client

    def _send(self, method, path, body=None):
        extra = {} if body is None else {"data": body, "content_type": "application/json"}
        return getattr(self.client, method)(f"/api{path}", **extra)

    def get(self, path):
        return self._send("get", path)

    def post(self, path, body=None):
        return self._send("post", path, {} if body is None else body)

    def put(self, path, body):
        return self._send("put", path, body)

    def patch(self, path, body):
        return self._send("patch", path, body)

    def delete(self, path):
        return self._send("delete", path)

    def begin(self, **change):
        """Begin the ash bowl of the journey; return its tag."""
        body = {"species": "ash-european", "diameter_mm": 290, "height_mm": 115, **change}
        answer = self.post("/pieces", body)
        assert answer.status_code == 201, answer.content
        return answer.json()["tag"]

    def rough(self, tag, *, days_ago=20.0, **notes):
        """Mark it rough-turned some days ago; it then dries."""
        at = (datetime.now(UTC) - timedelta(days=days_ago)).isoformat()
        body = {
            "notes": {"outside_diameter_mm": 280, "wall_mm": 28, "height_mm": 105, "bottom_mm": 34, **notes},
            "at": at,
        }
        answer = self.post(f"/bench/{tag}/done/rough", body)
        assert answer.status_code == 200, answer.content
        return answer.json()

    def weigh(self, tag, mass_g, *, days_ago=0.0, key=None):
        """Send a weight."""
        at = (datetime.now(UTC) - timedelta(days=days_ago)).isoformat()
        return self.post(
            "/drying/weigh-ins", {"key": str(key or uuid4()), "tag": tag, "mass_g": mass_g, "at": at}
        )


def problem(answer, status=422):
    """The items of a refusal, which must have the one shape."""
    assert answer.status_code == status, answer.content
    assert answer.headers["Content-Type"] == "application/problem+json"
    body = answer.json()
    assert body["status"] == status and body["title"] and body["errors"]
    return {item["field"]: item for item in body["errors"]}


def make_workshop(name, user):
    """A workshop with one person."""
    from server.apps.shop.services import create_workshop

    return create_workshop(name=name, username=user, password="canal-barge-77")


def api_of(workshop):
    """A client signed in as the workshop's person."""
    from django.test import Client

    client = Client()
    client.force_login(workshop.membership_set.get().user)
    return Api(client)


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    """Hashing is slow on purpose; here it only costs time."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def workshop(db):
    return make_workshop("Lock cottage", "ada")


@pytest.fixture
def api(workshop):
    return api_of(workshop)


@pytest.fixture
def other(db):
    """Somebody of another workshop."""
    return api_of(make_workshop("Mill yard", "bea"))
