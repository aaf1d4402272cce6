"""The real server as a process of its own, for tests that must not share one."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]


class Server:
    """The real server on a free port with a data folder of its own."""

    def __init__(self, folder, **env):
        self.env = {**os.environ, "KILN_DATA_DIR": str(folder), "PYTHONPATH": str(ROOT / "src"), **env}
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.cookies = {}
        self.process = None

    def manage(self, *words):
        subprocess.run(
            [sys.executable, ROOT / "manage.py", *words], env=self.env, check=True, capture_output=True
        )

    def start(self):
        command = [sys.executable, "-m", "gunicorn", "server.config.wsgi:application", "--bind", f"127.0.0.1:{self.port}",
                   "--worker-class", "gthread", "--threads", "4", "--no-control-socket", "--log-level", "warning"]  # fmt: skip
        self.process = subprocess.Popen(command, env=self.env, cwd=ROOT / "src", start_new_session=True)
        for _ in range(120):
            time.sleep(0.25)
            try:
                if self.call("GET", "/healthz") == {"ok": True}:
                    return
            except (urllib.error.URLError, ConnectionError):
                continue
        raise AssertionError("the server did not start")

    def kill(self):
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def call(self, method, path, body=None):
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", method=method)
        request.add_header("Cookie", "; ".join(f"{k}={v}" for k, v in self.cookies.items()))
        request.add_header("X-CSRFToken", self.cookies.get("csrftoken", ""))
        data = None if body is None else json.dumps(body).encode()
        request.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(request, data, timeout=20) as answer:
            for header in answer.headers.get_all("Set-Cookie") or []:
                name, value = header.split(";")[0].split("=", 1)
                self.cookies[name] = value
            text = answer.read().decode()
            return json.loads(text) if answer.headers["Content-Type"].startswith("application/json") else text

    @property
    def address(self):
        """Where it answers."""
        return f"http://127.0.0.1:{self.port}"
