"""Reading a climate logger over HTTP: its present air as JSON, its memory as CSV."""

import csv
import io
import json
import urllib.error
import urllib.request
from dataclasses import dataclass
from datetime import datetime

__all__ = ["LoggedAir", "LoggerLost", "air_of", "history_of", "read_logger"]

MOST_BYTES = 4_000_000


class LoggerLost(Exception):
    """The logger cannot be reached or does not speak what was expected; words for a person."""


@dataclass(frozen=True, slots=True)
class LoggedAir:
    """One reading with its moment."""

    at: datetime
    air_c: float
    rh_pct: float


def _fetch(url: str, timeout_s: float) -> bytes:
    if not url.startswith("http://"):
        raise LoggerLost("A logger is read over plain HTTP on the workshop's own network.")
    opener = urllib.request.build_opener(_Stay())
    try:
        with opener.open(url, timeout=timeout_s) as answer:
            data: bytes = answer.read(MOST_BYTES + 1)
    except (urllib.error.URLError, OSError, ValueError):
        raise LoggerLost("The logger cannot be reached: check its power, network and address.") from None
    if len(data) > MOST_BYTES:
        raise LoggerLost("The logger sends more than can be taken in one go.")
    return data


class _Stay(urllib.request.HTTPRedirectHandler):
    """A logger never sends a reader elsewhere."""

    def redirect_request(self, *args: object, **kwargs: object) -> None:
        """Refuse."""
        return None


def _moment(text: str) -> datetime:
    at = datetime.fromisoformat(text.replace("Z", "+00:00"))
    if at.tzinfo is None:
        raise ValueError("no zone")
    return at


def air_of(data: bytes) -> LoggedAir:
    """Return the present reading from a logger's JSON.

    Parameters
    ----------
    data : bytes
        ``{"at": ISO, "air_c": number, "rh_pct": number}``.

    Returns
    -------
    air : LoggedAir
        Its reading.

    Raises
    ------
    LoggerLost
        For anything else.
    """
    try:
        found = json.loads(data)
        return LoggedAir(_moment(found["at"]), float(found["air_c"]), float(found["rh_pct"]))
    except (ValueError, KeyError, TypeError):
        raise LoggerLost("The logger answers, but not with at, air_c and rh_pct.") from None


def history_of(data: bytes) -> list[LoggedAir]:
    """Return all readings from a logger's CSV with the columns at, air_c and rh_pct.

    Parameters
    ----------
    data : bytes
        UTF-8 text; rows that are not readings are left out.

    Returns
    -------
    readings : list of LoggedAir
        In the order of the file.
    """
    rows = []
    for row in csv.DictReader(io.StringIO(data.decode("utf-8", errors="replace"))):
        try:
            rows.append(LoggedAir(_moment(row["at"]), float(row["air_c"]), float(row["rh_pct"])))
        except (ValueError, KeyError, TypeError):
            continue
    return rows


def read_logger(url: str, *, timeout_s: float = 3.0) -> list[LoggedAir]:
    """Return what a logger remembers; its present air alone where it keeps no memory.

    Parameters
    ----------
    url : str
        Of its JSON; the CSV is asked for beside it, with ``.csv`` for ``.json``.
    timeout_s : float
        To wait for each answer.

    Returns
    -------
    readings : list of LoggedAir
        At least one.

    Raises
    ------
    LoggerLost
        Where it cannot be reached or read.
    """
    present = air_of(_fetch(url, timeout_s))
    if not url.endswith(".json"):
        return [present]
    try:
        memory = history_of(_fetch(url.removesuffix(".json") + ".csv", timeout_s))
    except LoggerLost:
        memory = []
    return [*memory, present]
