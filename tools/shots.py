"""Take the pictures of the main views into docs/screenshots, from a fresh demo on a server of its own."""

import os
import shutil
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.server_process import Server  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"
DESK, TABLET, PHONE = (1280, 800), (820, 1180), (390, 844)


def _nothing(page: Page) -> None:
    """Leave the view as it opens."""


def _why(page: Page) -> None:
    page.locator('[data-label="Speed, running true"] summary').click()


def _round(page: Page) -> None:
    field = page.locator("#round-field")
    for text in ("22 499", "14 11950"):
        field.fill(text)
        field.press("Enter")
        page.wait_for_timeout(1800)


def _planner(page: Page) -> None:
    page.locator('[data-log="3"] a.btn').click()
    page.locator(".layout").first.wait_for(timeout=30_000)


def _ways(page: Page) -> None:
    page.locator('tr[data-way="microwave"]').wait_for(timeout=40_000)


def _shape(page: Page) -> None:
    page.locator(".section .knob").first.wait_for(timeout=30_000)


def _cores(page: Page) -> None:
    page.locator(".pivot").first.wait_for(timeout=30_000)


SHOTS: list[tuple[str, str, tuple[int, int], Callable[[Page], None]]] = [
    ("today", "/", DESK, _nothing),
    ("yard", "/yard", DESK, _nothing),
    ("planner", "/yard", DESK, _planner),
    ("odd", "/odd", DESK, _nothing),
    ("shape", "/shape/27", DESK, _shape),
    ("cores", "/cores/28", DESK, _cores),
    ("which-way", "/cutting", DESK, _nothing),
    ("drying-floor", "/drying", DESK, _nothing),
    ("drying-one", "/drying/12", DESK, _nothing),
    ("ways", "/drying/15/ways", DESK, _ways),
    ("bench-rough", "/bench/23", DESK, _nothing),
    ("bench-finish-turn", "/bench/11/turn", DESK, _nothing),
    ("bench-coats", "/bench/19", DESK, _nothing),
    ("reckoner", "/bench", DESK, lambda page: page.locator(".figure summary").first.click()),
    ("record", "/piece/9", DESK, _nothing),
    ("shop", "/shop", DESK, _nothing),
    ("bench-tablet", "/bench/23", TABLET, _why),
    ("today-phone", "/", PHONE, _nothing),
    ("round-phone", "/round", PHONE, _round),
]


def main() -> None:
    """Start a server with the demo, open each view, keep its picture."""
    folder = tempfile.mkdtemp(prefix="yard-kiln-shots-")
    server = Server(folder, KILN_DEMO="1")
    server.manage("migrate", "-v0")
    server.manage("load_demo")
    server.start()
    FOLDER.mkdir(parents=True, exist_ok=True)
    path = os.environ.get("KILN_CHROMIUM") or shutil.which("chromium")
    try:
        with sync_playwright() as play:
            browser = play.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
            for name, address, (width, height), prepare in SHOTS:
                page = browser.new_page(viewport={"width": width, "height": height})
                page.goto(server.address)
                page.get_by_role("button", name="Enter the demo workshop").click()
                page.get_by_role("heading", name="Today").wait_for()
                page.goto(f"{server.address}/#{address}")
                page.wait_for_load_state("networkidle")
                page.wait_for_timeout(400)
                prepare(page)
                page.wait_for_timeout(300)
                page.screenshot(path=FOLDER / f"{name}.png")
                page.close()
                print(name)
            browser.close()
    finally:
        server.kill()
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
