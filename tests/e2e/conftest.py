"""The real server with the demo yard, driven by the real browser."""

import os
import shutil
from pathlib import Path

import pytest

from tests.server_process import Server

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    path = os.environ.get("KILN_CHROMIUM") or shutil.which("chromium") or shutil.which("chromium-browser")
    args = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]
    return {**browser_type_launch_args, "executable_path": path, "args": args}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "timezone_id": "Europe/London",
    }


@pytest.fixture(scope="session")
def yard(tmp_path_factory):
    """A server with a fresh demo, for the whole session."""
    assert (ROOT / "static" / "index.html").exists(), "the screens are not built: run `make setup`"
    server = Server(tmp_path_factory.mktemp("yard"), KILN_DEMO="1")
    server.manage("migrate", "-v0")
    server.manage("load_demo")
    server.start()
    yield server
    server.kill()


class Troubles(list):
    """What the console complained of; a test ends with none it did not expect."""

    def forgive_the_line(self):
        """A test took the server or the network away on purpose: what could not be fetched is no trouble."""
        self[:] = [t for t in self if "net::ERR_" not in t and "Failed to fetch" not in t]


@pytest.fixture
def troubles(page):
    found = Troubles()
    page.on("pageerror", lambda error: found.append(str(error)))
    page.on(
        "console",
        lambda m: found.append(m.text) if m.type == "error" and "status of 4" not in m.text else None,
    )
    yield found
    assert list(found) == []


@pytest.fixture
def demo(page, yard, troubles):
    """A page inside the demo workshop, at Today."""
    page.goto(yard.address)
    page.get_by_role("button", name="Enter the demo workshop").click()
    page.get_by_role("heading", name="Today").wait_for()
    return page


def go(page, path):
    """Open an address of the app without reloading it."""
    page.evaluate("path => { location.hash = path }", path)
    page.wait_for_timeout(50)


def figure(page, name, label=""):
    """The text of a figure on a card."""
    wanted = f'[data-figure="{name}"]' + (f'[data-label*="{label}"]' if label else "")
    return page.locator(wanted).first
