"""Prints what was measured: the API on a yard of 500, the engine, first load, and forecast coverage.

Times are of this machine in this run; each stands beside a yardstick of the same run (a
plain read of the session and workshop), so that runs can be compared as ratios.
"""

import gzip
import os
import re
import shutil
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from uuid import uuid4

ROOT = Path(__file__).resolve().parents[1]
PIECES = int(os.environ.get("KILN_BENCH_PIECES", "500"))
RUNS = int(os.environ.get("KILN_BENCH_RUNS", "60"))


def timed(call: Callable[[], object], times: int) -> tuple[float, float]:
    """Return p50 and p95 in milliseconds."""
    call()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        call()
        taken.append(1000.0 * (time.perf_counter() - start))
    taken.sort()
    return taken[len(taken) // 2], taken[min(len(taken) - 1, int(0.95 * len(taken)))]


def first_load() -> dict[str, int]:
    """Return gzip bytes a first visit to Today fetches, fonts apart."""
    index = (ROOT / "web" / "dist" / "index.html").read_text()
    names = set(re.findall(r"/static/(assets/[^\"]+)", index))
    for _ in range(4):  # what those files import statically
        for name in list(names):
            text = (ROOT / "web" / "dist" / name).read_text(errors="ignore") if name.endswith(".js") else ""
            names |= {
                f"assets/{m}" for m in re.findall(r"(?:from|import)\s*[\"']\./([\w.-]+\.js)[\"']", text)
            }
    sizes = {
        n: len(gzip.compress((ROOT / "web" / "dist" / n).read_bytes(), 6))
        for n in names
        if not n.endswith("woff2")
    }
    return {**sizes, "index.html": len(gzip.compress(index.encode(), 6))}


def api_rows(folder: str) -> list[tuple[str, float, float, str]]:
    """Return p50 and p95 of the main requests on a yard of many pieces."""
    os.environ.update(KILN_DATA_DIR=folder, DJANGO_SETTINGS_MODULE="server.config.settings")
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client
    from django.utils import timezone

    call_command("migrate", verbosity=0)
    from bench.floor import big_yard, moments
    from server.apps.drying.forecasts import open_runs

    yard = big_yard(PIECES)
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(yard.membership_set.get().user)
    get = lambda path: client.get(path)  # noqa: E731

    def post(path: str, body: object) -> object:
        answer = client.post(path, body, content_type="application/json")
        assert answer.status_code < 300, answer.content
        return answer.json()

    blank = {"figures": {"diameter_mm": 285.75}}
    run = open_runs(yard).filter(piece__tag="12").get()
    last = run.weigh_ins.last()
    when = iter(moments(400))

    def weigh() -> None:
        post(
            "/api/drying/weigh-ins",
            {"key": str(uuid4()), "tag": "12", "mass_g": last.mass_g, "at": next(when)},
        )

    others = iter(f"X-{i}" for i in range(40))

    def weigh_and_forecast() -> None:  # a piece of its own each time, weighed as expected
        tag = next(others)
        expected = get(f"/api/drying/expected?tag={tag}").json()["mass_g"]
        post("/api/drying/weigh-ins", {"key": str(uuid4()), "tag": tag, "mass_g": expected})
        post("/api/drying/refresh", {"tags": [tag], "most": 1})
        get(f"/api/drying/{tag}")

    rows = [("yardstick: who is signed in", *timed(lambda: get("/api/account/me"), 60), "")]
    rows.append((f"Drying, {PIECES} pieces", *timed(lambda: get("/api/drying"), 25), "200 ms"))
    rows.append((f"Today, {PIECES} pieces", *timed(lambda: get("/api/today"), 25), "200 ms"))
    rows.append(
        ("work card recomputed", *timed(lambda: post("/api/bench/23/card/rough/try", blank), 80), "50 ms")
    )
    rows.append(("weigh-in acknowledged", *timed(weigh, 80), "50 ms"))
    rows.append(("weigh-in and its new forecast", *timed(weigh_and_forecast, 18), "1000 ms"))
    log = {
        "species": "ash-european", "length_mm": 1200, "large_wide_mm": 380, "small_wide_mm": 340, "bark_mm": 12,
        "pith_offset_mm": 18,
    }  # fmt: skip
    number = post("/api/yard/logs", log)["id"]  # type: ignore[index]
    laid = post(f"/api/yard/logs/{number}/layouts", {})
    spots = [b["spot"] for b in laid["layouts"][0]["blanks"]]  # type: ignore[index]
    trial = {"spots": spots}
    rows.append(
        ("a blank dragged", *timed(lambda: post(f"/api/yard/logs/{number}/trial", trial), 60), "50 ms")
    )
    rows.append(("all layouts of a log", *timed(lambda: post(f"/api/yard/logs/{number}/layouts", {}), 5), ""))
    rows.extend(lathe_rows(post))
    rows.append(("what if, all ways", *timed(lambda: get("/api/drying/12/what-if"), 4), ""))
    assert timezone.now()
    return rows


def lathe_rows(post: Callable[[str, object], object]) -> list[tuple[str, float, float, str]]:
    """Return p50 and p95 of everything that is dragged on the lathe side, and of the nest's search."""
    from kilncore.coring.cut import Knife
    from kilncore.coring.nest import NestAsk, best_nest
    from kilncore.solids.curve import curve
    from kilncore.solids.families import Sizes, family_handles

    rows = []
    for family, height in (("hemisphere", 105.0), ("bottle", 240.0)):
        found = post("/api/lathe/family", {"family": family, "width_mm": 240, "height_mm": height})
        design = {
            "outer": found["outer"],
            "wall": "heavy",
            "foot": "tenon",
            "foot_mm": 60,
            "foot_length_mm": 6,
        }  # type: ignore[index]
        stock = {"diameter_mm": 290, "height_mm": 260, "pith_mm": 20, "log_radius_mm": 190}
        body = {"design": design, "species": "ash-european", "stock": stock, "full": False}
        rows.append(
            (f"a handle dragged, {family}", *timed(lambda b=body: post("/api/lathe/shape", b), 80), "50 ms")
        )
        settled = {**body, "full": True}
        rows.append((f"and let go, {family}", *timed(lambda b=settled: post("/api/lathe/shape", b), 40), ""))
    radii = (90, 110, 130, 150, 175, 200)
    for radius in radii:
        sizes = {"radius_mm": radius, "kerf_mm": 7, "reach_mm": 1.7 * radius, "clear_mm": 18}
        post("/api/shop/tools", {"kind": "coring-knife", "name": f"bench {radius}", "sizes": sizes})
    cuts = [{"knife": "bench 110", "gap_mm": 40}, {"knife": "bench 150", "gap_mm": 34}]
    nest = {"width_mm": 360, "height_mm": 150, "wall_mm": 24, "bottom_mm": 30, "cuts": cuts}
    rows.append(("a kerf dragged", *timed(lambda: post("/api/lathe/nest", nest), 80), "50 ms"))
    knives = tuple(Knife(str(r), str(r), r, 7.0, 1.7 * r, 18.0) for r in radii)
    outer = curve(family_handles("hemisphere", Sizes(360.0, 150.0, 120.0)))
    for offsets in (False, True):
        ask = NestAsk(outer, knives, 24.0, 30.0, offsets=offsets)
        what = "six knives nested" + (", pivots beside the axis" if offsets else "")
        rows.append((what, *timed(lambda a=ask: best_nest(a), 8), "1000 ms"))
    return rows


def engine_rate() -> float:
    """Return pieces times years a second, a thousand in one batch, one process."""
    import numpy as np

    from kilncore.drying.model import DryingPiece, Treatment, Unknowns, simulate
    from kilncore.wood.species import Known

    piece = DryingPiece("side-grain", 25.0, 30.0, 0.55, Known(60, 70, 80, False, "bench"), 1200.0, 8.0)
    ways = (Treatment(0.0, 18.0, 55.0, "paper-bag"), Treatment(60.0, 18.0, 50.0))
    draws = Unknowns.from_matrix(np.zeros((1000, 5)))
    start = time.perf_counter()
    simulate(piece, ways, until_days=365.0, unknowns=draws)
    return 1000.0 / (time.perf_counter() - start)


def main() -> None:
    """Measure and print."""
    sys.path[:0] = [str(ROOT / "src"), str(ROOT)]
    folder = tempfile.mkdtemp(prefix="yard-kiln-bench-")
    try:
        rows = api_rows(folder)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    yardstick = rows[0][1]
    print(f"\n{'what':<42}{'p50 ms':>9}{'p95 ms':>9}{'x yardstick':>13}   wanted (p95)")
    for name, p50, p95, wanted in rows:
        print(f"{name:<42}{p50:>9.1f}{p95:>9.1f}{p50 / yardstick:>13.1f}   {wanted}")
    print(f"\nengine: {engine_rate():,.0f} pieces x years a second (1000 pieces in one batch)")
    sizes = first_load()
    print(
        f"first load: {sum(sizes.values()) / 1000:.1f} kB gzip without fonts (wanted under 120), {len(sizes)} files"
    )
    from bench.coverage import run_coverage

    print(
        f"\nforecast on {RUNS} simulated runs: 80 % band holds the truth; median error as share of the time to go"
    )
    print(
        f"{'weights':>8}{'inside':>9}{'metered':>9}{'engine':>9}{'exponential':>13}{'stretched':>11}{'engine, of all':>16}"
    )
    for row in run_coverage(RUNS):
        met = f"{100 * row['metered']:.0f}%" if "metered" in row else "-"
        cells = [f"{row[k]:.2f}" if k in row else "-" for k in ("engine", "exponential", "page", "whole")]
        print(
            f"{row['weights']:>8.0f}{100 * row['inside']:>8.0f}%{met:>9}{cells[0]:>9}{cells[1]:>13}{cells[2]:>11}{cells[3]:>16}"
        )


if __name__ == "__main__":
    main()
