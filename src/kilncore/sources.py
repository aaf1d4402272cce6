"""Which published source, practice or assumption stands behind a key."""

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

__all__ = ["Source", "all_sources", "source"]


@dataclass(frozen=True, slots=True)
class Source:
    """Where a figure comes from."""

    key: str
    kind: str
    title: str
    publisher: str = ""
    note: str = ""


@cache
def all_sources() -> dict[str, Source]:
    """Return every source by key."""
    text = (files("kilncore") / "data" / "sources.toml").read_text(encoding="utf-8")
    return {key: Source(key=key, **row) for key, row in tomllib.loads(text).items()}


def source(key: str) -> Source:
    """Return one source; KeyError names the missing key."""
    return all_sources()[key]
