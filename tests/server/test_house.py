"""The house itself: headers, health, schema, migrations, secrets, and words that must not stand anywhere."""

import json
import re
import subprocess
from pathlib import Path

import pytest
from django.core.management import call_command
from django.test import Client, override_settings

ROOT = Path(__file__).resolve().parents[2]


def tracked(*patterns):
    """Files under version control; every file where there is none."""
    done = subprocess.run(
        ["git", "ls-files", *patterns], cwd=ROOT, capture_output=True, text=True, check=False
    )
    return [ROOT / name for name in done.stdout.split("\n") if name]


def test_health_is_open_and_says_ok(db):
    assert Client().get("/healthz").json() == {"ok": True}


def test_pages_carry_a_strict_policy_and_the_token(db, settings, tmp_path):
    (tmp_path / "index.html").write_text("<!doctype html><title>Yard Kiln</title>")
    settings.WEB_DIST = tmp_path
    for path in ("/", "/some/deep/link"):
        page = Client().get(path)
        assert page.status_code == 200 and "csrftoken" in page.cookies
        policy = page.headers["Content-Security-Policy"]
        assert "default-src 'none'" in policy and "script-src 'self'" in policy and "unsafe" not in policy
        assert (
            page.headers["X-Content-Type-Options"] == "nosniff" and page.headers["X-Frame-Options"] == "DENY"
        )
        assert page.headers["Cache-Control"] == "no-cache"


def test_unbuilt_screens_say_what_to_run(db, settings, tmp_path):
    settings.WEB_DIST = tmp_path
    page = Client().get("/")
    assert page.status_code == 503 and b"make demo" in page.content


def test_production_is_the_default(settings):
    assert settings.DATABASES["default"]["OPTIONS"]["transaction_mode"] == "IMMEDIATE"
    assert "journal_mode=WAL" in settings.DATABASES["default"]["OPTIONS"]["init_command"]
    assert "synchronous=FULL" in settings.DATABASES["default"]["OPTIONS"]["init_command"]
    from server.config import settings as module

    assert module.DEBUG is False and module.DEMO is False
    assert set(module.ALLOWED_HOSTS) == {"127.0.0.1", "localhost", "[::1]"}


def test_the_secret_key_is_made_once_kept_private_and_out_of_git():
    from server.config import settings as module

    key = module.DATA_DIR / "secret_key"
    assert len(key.read_text()) >= 50 and key.stat().st_mode & 0o077 == 0
    assert module._secret_key() == key.read_text()
    assert "/var/" in (ROOT / ".gitignore").read_text()


@override_settings(ALLOWED_HOSTS=["127.0.0.1"])
def test_a_foreign_host_name_is_refused(db):
    assert Client(headers={"host": "evil.example"}).get("/healthz").status_code == 400


def test_deploy_checks_pass(monkeypatch):
    monkeypatch.delenv("DJANGO_ALLOW_ASYNC_UNSAFE")  # set for the browser tests alone
    call_command("check", deploy=True, fail_level="WARNING")


def test_models_have_all_their_migrations(db):
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


def test_the_schema_in_the_web_folder_is_the_apis_own():
    from server.config.mount import api

    kept = json.loads((ROOT / "web" / "openapi.json").read_text())
    assert kept == json.loads(json.dumps(api.get_openapi_schema(), sort_keys=True)), "run `make schema`"


def test_every_operation_has_a_name_a_summary_and_declared_refusals():
    schema = json.loads((ROOT / "web" / "openapi.json").read_text())
    ids = []
    for path, methods in schema["paths"].items():
        for method, operation in methods.items():
            ids.append(operation["operationId"])
            assert operation["summary"], path
            if path != "/api/account/me" or method != "get":
                assert "422" in operation["responses"], (method, path)
    assert len(ids) == len(set(ids)) > 35


def test_every_input_refuses_unknown_fields():
    schema = json.loads((ROOT / "web" / "openapi.json").read_text())
    bodies = set()
    for methods in schema["paths"].values():
        for operation in methods.values():
            content = operation.get("requestBody", {}).get("content", {})
            for media in (m for kind, m in content.items() if kind != "multipart/form-data"):
                bodies.add(media["schema"]["$ref"].rsplit("/", 1)[1])
    assert len(bodies) > 15
    assert all(schema["components"]["schemas"][name].get("additionalProperties") is False for name in bodies)


ADDRESSES = re.compile(
    r"https?://(registry|files|index|deb|mirror|packages)[.]|--(extra-)?index-url|\"resolved\": *\"http"
)


def test_locks_carry_hashes_and_no_address():
    for name in ("requirements.txt", "requirements-dev.txt", "web/package-lock.json"):
        text = (ROOT / name).read_text()
        assert not ADDRESSES.search(text), name
        assert "sha256" in text or "sha512" in text
    assert "omit-lockfile-registry-resolved=true" in (ROOT / "web" / ".npmrc").read_text()


def test_the_app_fetches_nothing_from_elsewhere():
    sources = [
        p for p in tracked("web/src", "web/index.html") if p.suffix in {".svelte", ".ts", ".css", ".html"}
    ]
    outside = [
        p.name
        for p in sources
        if re.search(r"(src|href|url)[=(]\W*https?://", p.read_text()) and p.name != "schema.ts"
    ]
    assert len(sources) > 40 and outside == []


@pytest.mark.parametrize("name", ["requirements.in", "requirements-dev.in"])
def test_every_wanted_package_is_locked(name):
    wanted = re.findall(r"^([a-z][a-z0-9-]+)", (ROOT / name).read_text(), re.M)
    locked = (ROOT / name.replace(".in", ".txt")).read_text()
    assert wanted and all(re.search(rf"^{package}(\[.*\])?==", locked, re.M | re.I) for package in wanted)


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [("get", "/api/nowhere", 404), ("put", "/api/account/me", 405), ("post", "/api/", 404)],
)
def test_refusals_of_the_framework_have_the_one_shape_too(db, method, path, status):
    from tests.conftest import problem

    assert problem(getattr(Client(), method)(path), status)[""]["message"]
