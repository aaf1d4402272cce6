"""Stand-ins that listen where real instruments would, to try the app without hardware.

A scale and a meter as serial adapters on TCP, a climate logger on HTTP.
"""

import json
import math
import random
import socketserver
import threading
import time
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlparse

from kilndevices.instruments import Air, SimulatedClimateLogger, SimulatedScale

__all__ = ["LineStand", "Lines", "LoggerStand", "MeterLines", "ScaleLines"]


class LineStand(socketserver.ThreadingTCPServer):
    """An adapter that sends a line every ``every_s`` to whoever listens."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, lines: "Lines", *, port: int = 0, every_s: float = 0.2) -> None:
        super().__init__(("127.0.0.1", port), _Talk)
        self.lines, self.every_s = lines, every_s

    @property
    def url(self) -> str:
        """Return the address pyserial reads it at."""
        return f"socket://127.0.0.1:{self.server_address[1]}"

    def start(self) -> "LineStand":
        """Serve in the background."""
        threading.Thread(target=self.serve_forever, daemon=True).start()
        return self


class _Talk(socketserver.BaseRequestHandler):
    def handle(self) -> None:
        stand = self.server
        assert isinstance(stand, LineStand)
        for _ in range(100_000):
            line = stand.lines.next()
            if line is None:  # hangs up, as a pulled plug does
                return
            try:
                self.request.sendall(line)
            except OSError:
                return
            time.sleep(stand.every_s)


class Lines:
    """What a stand-in sends; one line at a time."""

    def next(self) -> bytes | None:
        """Return the next line, None to hang up."""
        raise NotImplementedError


class ScaleLines(Lines):
    """A scale with a load on it: it settles for some lines, then stands still."""

    def __init__(self, load_g: float, *, seed: int = 1, unit: str = "g", settle: int = 4) -> None:
        self._scale = SimulatedScale(seed)
        self._chance = random.Random(seed)
        self._factor = {"g": 1.0, "kg": 0.001, "oz": 1 / 28.349523125}[unit]
        self.unit, self._settle = unit, settle
        self.load(load_g)

    def load(self, load_g: float) -> None:
        """Put another load on it."""
        self.load_g, self._left = load_g, self._settle

    def next(self) -> bytes:
        """Return the next line."""
        if self._left > 0:
            self._left -= 1
            moving = self.load_g * (1.0 + 0.05 * min(self._left, 4) * self._chance.uniform(-1, 1))
            return f"US {moving * self._factor:+.1f} {self.unit}\r\n".encode()
        reading = self._scale.weigh(self.load_g)
        if reading.overload:
            return b"OL\r\n"
        return f"ST {self.load_g * self._factor:+.1f} {self.unit}\r\n".encode()


class MeterLines(Lines):
    """A pin meter in a piece of wood: set for another wood, it reads so much off."""

    def __init__(self, mc_pct: float, *, wood_adds_pct: float = 0.0, seed: int = 1) -> None:
        self.mc_pct, self.wood_adds_pct = mc_pct, wood_adds_pct
        self._chance = random.Random(seed)

    def next(self) -> bytes:
        """Return the next line."""
        shown = self.mc_pct - self.wood_adds_pct + self._chance.uniform(-0.1, 0.1)
        return b"MC OL %\r\n" if shown > 60.0 else f"MC {shown:.1f} %\r\n".encode()


class LoggerStand(ThreadingHTTPServer):
    """A temperature and humidity logger: /air.json now, /air.csv its last weeks, /load for the scale."""

    daemon_threads = True

    def __init__(
        self, *, port: int = 0, seed: int = 1, days: int = 60, scale: ScaleLines | None = None
    ) -> None:
        super().__init__(("127.0.0.1", port), _Answer)
        self.logger, self.days, self.scale = SimulatedClimateLogger(seed, mean=Air(17.0, 58.0)), days, scale

    @property
    def url(self) -> str:
        """Return the address of its JSON."""
        return f"http://127.0.0.1:{self.server_address[1]}/air.json"

    def start(self) -> "LoggerStand":
        """Serve in the background."""
        threading.Thread(target=self.serve_forever, daemon=True).start()
        return self

    def air(self, at: datetime) -> dict[str, object]:
        """Return the air at a moment: season, day and night, and weather."""
        day = at.timetuple().tm_yday + at.hour / 24.0
        air = self.logger.read(day)
        swing = math.sin(2 * math.pi * (at.hour - 9) / 24.0)
        return {
            "at": at.isoformat(), "air_c": round(air.air_c + 1.5 * swing, 1),
            "rh_pct": round(min(max(air.rh_pct - 3.0 * swing, 5.0), 98.0), 1),
        }  # fmt: skip


class _Answer(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        """Answer one request."""
        stand = self.server
        assert isinstance(stand, LoggerStand)
        asked = urlparse(self.path)
        now = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
        if asked.path == "/air.json":
            self._send(json.dumps(stand.air(now)), "application/json")
        elif asked.path == "/air.csv":
            rows = [stand.air(now - timedelta(hours=6 * i)) for i in range(4 * stand.days, 0, -1)]
            lines = ["at,air_c,rh_pct", *(f"{r['at']},{r['air_c']},{r['rh_pct']}" for r in rows)]
            self._send("\n".join(lines) + "\n", "text/csv")
        elif asked.path == "/load" and stand.scale is not None:
            stand.scale.load(float(parse_qs(asked.query).get("g", ["0"])[0]))
            self._send("ok\n", "text/plain")
        else:
            self.send_error(404)

    def _send(self, text: str, kind: str) -> None:
        body = text.encode()
        self.send_response(200)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *args: object) -> None:
        """Say nothing."""
