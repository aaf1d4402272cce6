"""What a newcomer meets first: ports taken, tools missing, arrows crossed; each said in one line."""

import os
import shutil
import socket
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
sys.path.insert(0, str(ROOT / "tools"))

import serve  # noqa: E402


def test_a_taken_port_gives_way_to_the_next_free_one():
    with socket.socket() as holder:
        holder.bind(("127.0.0.1", 0))
        holder.listen()
        taken = holder.getsockname()[1]
        assert not serve.is_free("127.0.0.1", taken)
        assert serve.free_port("127.0.0.1", taken) > taken


def test_no_free_port_at_all_says_what_to_type(monkeypatch):
    monkeypatch.setattr(serve, "is_free", lambda host, port: False)
    with pytest.raises(SystemExit, match="PORT=9000"):
        serve.free_port("127.0.0.1", 8730)


def test_a_port_that_is_no_number_is_refused_in_words():
    done = subprocess.run(
        [sys.executable, ROOT / "tools" / "serve.py", "harbour"], capture_output=True, text=True, check=False
    )
    assert done.returncode and "'harbour'" in done.stderr and "Traceback" not in done.stderr


def need(tmp_path, python, **scripts):
    """Run the check with only these programs on the path."""
    for name, text in scripts.items():
        path = tmp_path / name
        path.write_text(f"#!/bin/sh\n{text}\n")
        path.chmod(0o755)
    return subprocess.run(
        [shutil.which("bash"), ROOT / "tools" / "need.sh", python],
        env={"PATH": f"{tmp_path}"}, capture_output=True, text=True, check=False,
    )  # fmt: skip


@pytest.mark.parametrize(
    ("python", "scripts", "words"),
    [
        ("/nowhere/python", {}, "Python 3.11 or newer"),
        (sys.executable, {}, "Node.js 20 or newer is needed and was not found"),
        (sys.executable, {"node": 'case "$1" in -p) echo 18;; *) echo v18.1.0;; esac'}, "this is v18.1.0"),
        (sys.executable, {"node": "echo 22"}, "npm is missing"),
    ],
)
def test_what_is_missing_is_said_in_one_line(tmp_path, python, scripts, words):
    done = need(tmp_path, python, **scripts)
    lines = [line for line in done.stdout.splitlines() if line]
    assert done.returncode == 1 and len(lines) == 1 and words in lines[0]


def test_nothing_is_said_when_all_is_there(tmp_path):
    done = need(tmp_path, sys.executable, node="echo 22", npm="echo 11")
    assert (done.returncode, done.stdout) == (0, "")


@pytest.mark.parametrize(
    ("where", "line", "contract"),
    [
        ("kilncore/rules/stray.py", "import django", "The core knows no framework"),
        ("kilncore/rules/stray.py", "import datetime", "The core knows no framework"),
        ("kilndevices/stray.py", "import server.api", "Instruments know only the core"),
        ("server/apps/shop/stray.py", "import server.apps.drying.models", "Rooms stand in order"),
        ("server/api/stray.py", "import server.apps.shop.models", "The shared API knows no room"),
    ],
)
def test_a_crossed_arrow_is_caught(tmp_path, where, line, contract):
    shutil.copytree(ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__"))
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    (tmp_path / "src" / where).write_text(f'"""Stray."""\n\n{line}\n')
    done = subprocess.run(
        [sys.executable, "-c", "from importlinter.cli import lint_imports_command as c; c()", "--no-cache"],
        cwd=tmp_path, env={**os.environ, "PYTHONPATH": str(tmp_path / "src")}, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 1
    assert any(contract in text and "BROKEN" in text for text in done.stdout.splitlines())


@pytest.mark.parametrize(
    ("where", "line"),
    [
        ("features/yard/stray.ts", "import '../drying/round.svelte'"),
        ("lib/stray.ts", "import '../features/today/today.svelte'"),
    ],
)
def test_a_feature_that_reaches_into_another_is_caught(where, line):
    eslint = ROOT / "web" / "node_modules" / ".bin" / "eslint"
    assert eslint.exists(), "run `make setup` first"
    done = subprocess.run(
        [eslint, "--stdin", "--stdin-filename", f"src/{where}"], cwd=ROOT / "web", input=f"{line}\n",
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 1 and "no-restricted-imports" in done.stdout


def test_measurements_run_on_a_small_yard_and_cover_the_truth_mostly():
    """`make bench` itself, made tiny: it must run, and an 80 % band that never holds is broken."""
    sys.path.insert(0, str(ROOT))
    from bench.coverage import run_coverage

    rows = run_coverage(2, seed=3)
    assert [row["weights"] for row in rows] == [0, 1, 3, 5, 10]
    assert all(0 <= row["inside"] <= 1 and row["engine"] >= 0 for row in rows)
    assert sum(row["inside"] for row in rows) > 0
