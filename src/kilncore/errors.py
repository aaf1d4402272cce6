"""What the core says when it is asked something it cannot answer.

Each error has a stable ``code``, the ``field`` it concerns, a sentence template and
the numbers that fill it, so that a screen can show them in the reader's own units.
"""

import dataclasses
import math
from dataclasses import dataclass

from kilncore.units import SUFFIXES, suffix_of

__all__ = ["CoreError", "Impossible", "OutOfRange", "Unknown", "require_range"]


@dataclass(eq=False)
class CoreError(Exception):
    """Base of everything the core raises on purpose."""

    code: str
    field: str
    template: str
    params: dict[str, float | str] = dataclasses.field(default_factory=dict)

    @property
    def message(self) -> str:
        """The sentence with its numbers, in the core's own units."""
        return fill(self.template, self.params)

    def __str__(self) -> str:
        return f"{self.code}: {self.message}"


class OutOfRange(CoreError):
    """A value lies outside what the source or the trade covers."""

    def __init__(self, name: str, value: float, low: float, high: float, why: str = "") -> None:
        suffix = suffix_of(name) or ""
        label = name.removesuffix(suffix).replace("_", " ")
        template = (
            f"The {label} must lie between {{low{suffix}}} and {{high{suffix}}}; "
            f"{{value{suffix}}} came.{' ' + why if why else ''}"
        )
        params: dict[str, float | str] = {
            f"low{suffix}": low,
            f"high{suffix}": high,
            f"value{suffix}": value,
        }
        super().__init__("out-of-range", name, template, params)


class Impossible(CoreError):
    """The figures contradict each other (a wall thicker than its bowl)."""


class Unknown(CoreError):
    """A key names nothing the tables hold."""

    def __init__(self, field_name: str, key: str, known: list[str]) -> None:
        super().__init__(
            "unknown",
            field_name,
            "There is no {key} here; known are: {known}.",
            {"key": key, "known": ", ".join(known)},
        )


def require_range(name: str, value: float, low: float, high: float, why: str = "") -> None:
    """Raise ``OutOfRange`` unless low <= value <= high.

    Parameters
    ----------
    name : str
        Field name with its unit suffix.
    value, low, high : float
        In the unit of the suffix.
    why : str
        One more sentence for the reader.

    Raises
    ------
    OutOfRange
        Also for values that are not finite.
    """
    if not (math.isfinite(value) and low <= value <= high):
        raise OutOfRange(name, value, low, high, why)


def fill(template: str, params: dict[str, float | str]) -> str:
    """Fill a sentence template in the core's own units."""
    words: dict[str, str] = {}
    for key, value in params.items():
        if isinstance(value, str):
            words[key] = value
            continue
        unit = SUFFIXES.get(suffix_of(key) or "", "")
        number = f"{value:.3g}" if abs(value) < 100 else f"{value:.0f}"
        words[key] = f"{number} {unit}".strip().replace(" %", " %")
    return template.format(**words)
