"""Lines that instruments send, and what they mean: a weight or a moisture, steady or not.

A scale or meter on a serial line (or on a serial-to-network adapter) sends text lines such as
``ST +1234.5 g`` or ``US 2.71 lb``. The reader asks little of them: a number, perhaps a unit,
perhaps a word for steady, moving or overload.
"""

import re
from dataclasses import dataclass

from kilncore.units import GRAMS_PER_OUNCE, GRAMS_PER_POUND

__all__ = ["LINE_MOST", "Shown", "moisture_of", "weight_of"]

# Longer than this is noise, not a line.
LINE_MOST = 80
UNITS = {"g": 1.0, "kg": 1000.0, "oz": GRAMS_PER_OUNCE, "lb": GRAMS_PER_POUND, "lbs": GRAMS_PER_POUND}
_NUMBER = re.compile(r"[-+]?\s*\d+(?:[.,]\d+)?")
_OVER = re.compile(r"\b(OL|OVER|OVERLOAD|ERR)\b", re.IGNORECASE)
_MOVING = re.compile(r"\b(US|UNSTABLE|MOVING|M)\b|\?", re.IGNORECASE)
_WORDS = re.compile(r"[A-Za-z%]+")


@dataclass(frozen=True, slots=True)
class Shown:
    """What a line says. state: steady, moving, overload, negative or garbage; value in g or %."""

    state: str
    value: float | None = None


def _text(line: bytes) -> str | None:
    if not 0 < len(line) <= LINE_MOST:
        return None
    try:
        text = line.decode("ascii").strip()
    except UnicodeDecodeError:
        return None
    return text if text.isprintable() and text else None


def _value(text: str) -> float | None:
    numbers = _NUMBER.findall(text)
    if len(numbers) != 1:
        return None
    return float(numbers[0].replace(" ", "").replace(",", "."))


def weight_of(line: bytes) -> Shown:
    """Return what a line of a scale says.

    Parameters
    ----------
    line : bytes
        One line, without or with its end.

    Returns
    -------
    shown : Shown
        Grams; a line without a unit counts as grams, one with a strange unit as garbage.
    """
    text = _text(line)
    if text is None:
        return Shown("garbage")
    if _OVER.search(text):
        return Shown("overload")
    value = _value(text)
    if value is None:
        return Shown("garbage")
    words = [w.lower() for w in _WORDS.findall(text)]
    units = [w for w in words if w in UNITS]
    strange = [
        w
        for w in words
        if w not in UNITS
        and w not in ("st", "us", "s", "gs", "nt", "stable", "unstable", "moving", "m", "net", "gross")
    ]
    if strange or len(units) > 1:
        return Shown("garbage")
    grams = value * UNITS[units[0]] if units else value
    if _MOVING.search(text):
        return Shown("moving", grams)
    return Shown("negative", grams) if grams < 0.0 else Shown("steady", grams)


def moisture_of(line: bytes) -> Shown:
    """Return what a line of a moisture meter says.

    Parameters
    ----------
    line : bytes
        One line such as ``MC 18.4 %``.

    Returns
    -------
    shown : Shown
        Percent; overload where it is wetter than the meter reads.
    """
    text = _text(line)
    if text is None:
        return Shown("garbage")
    if _OVER.search(text):
        return Shown("overload")
    value = _value(text)
    if value is None or "%" not in text or not 0.0 <= value <= 120.0:
        return Shown("garbage")
    return Shown("steady", value)
