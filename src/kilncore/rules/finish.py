"""Which coats, how far apart in this room, when it is cured and whether one may eat from it."""

import math
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from kilncore.errors import CoreError, Unknown, require_range
from kilncore.said import Caution, Sentence, say

__all__ = ["Coat", "FinishSystem", "Schedule", "all_finishes", "finish_schedule", "finish_system"]

REFERENCE_C = 20.0
DAMP_RH_PCT = 70.0


@dataclass(frozen=True, slots=True)
class FinishSystem:
    """A finish as data: coats in order and how they behave at 20 °C."""

    key: str
    label: str
    family: str
    interval_hours: float
    coats: tuple[tuple[str, int], ...]
    min_c: float
    cure_days: float
    food: str
    drinks: int
    care: str
    rags: bool = False
    nut: bool = False


@dataclass(frozen=True, slots=True)
class Coat:
    """One coat, hours after the first."""

    number: int
    what: str
    after_hours: float
    wait_hours: float


@dataclass(frozen=True, slots=True)
class Schedule:
    """Coats with their times, when it is cured, and what it may be used for."""

    system: FinishSystem
    coats: tuple[Coat, ...]
    interval_hours: float
    cured_after_hours: float
    food: Sentence
    why: Sentence
    cautions: tuple[Caution, ...]


@cache
def all_finishes() -> dict[str, FinishSystem]:
    """Return every finish system by key."""
    text = (files("kilncore") / "data" / "finishes.toml").read_text(encoding="utf-8")
    rows = tomllib.loads(text)
    return {
        key: FinishSystem(key=key, coats=tuple((w, int(n)) for w, n in row.pop("coats")), **row)
        for key, row in rows.items()
    }


def finish_system(key: str) -> FinishSystem:
    """Return one system; Unknown lists the others."""
    try:
        return all_finishes()[key]
    except KeyError:
        raise Unknown("finish", key, list(all_finishes())) from None


def _stretch(room_c: float, rh_pct: float) -> float:
    cold = math.pow(2.0, (REFERENCE_C - room_c) / 10.0)
    return max(cold, 0.5) * (1.5 if rh_pct > DAMP_RH_PCT else 1.0)


def finish_schedule(
    key: str,
    *,
    room_c: float,
    rh_pct: float,
    end_grain: bool = False,
    punky: bool = False,
    for_food: bool = False,
) -> Schedule:
    """Return the coats of a system in this room.

    Parameters
    ----------
    key : str
        A finish system.
    room_c, rh_pct : float
        Air of the room it dries in. [°C] [%]
    end_grain, punky : bool
        Wood that drinks: more first coats.
    for_food : bool
        Whether it is meant for food.

    Returns
    -------
    schedule : Schedule
        Times as hours after the first coat.

    Raises
    ------
    Unknown
        For an unknown system.
    CoreError
        If the room is colder than the finish sets at all.
    OutOfRange
        For a room outside -5 to 40 °C.

    References
    ----------
    .. [maker] intervals at 20 °C; [common-practice] an hour between sealer coats near 4 °C.
    """
    system = finish_system(key)
    require_range("room_c", room_c, -5.0, 40.0)
    require_range("rh_pct", rh_pct, 1.0, 100.0)
    if room_c < system.min_c:
        raise CoreError(
            "too-cold",
            "room_c",
            "{finish} does not set below {least_c}; the room has {room_c}. Warm the piece and the room.",
            {"finish": system.label, "least_c": system.min_c, "room_c": room_c},
        )
    stretch = _stretch(room_c, rh_pct)
    interval = system.interval_hours * stretch
    extra = system.drinks if (end_grain or punky) else 0
    coats = _lay(system, interval, extra)
    why = say(
        "interval",
        "{base_hours} at 20 °C; {stretch} times that at {room_c} and {rh_pct}"
        + ("; more first coats because the wood drinks." if extra else "."),
        base_hours=system.interval_hours,
        stretch=stretch,
        room_c=room_c,
        rh_pct=rh_pct,
    )
    cured = coats[-1].after_hours + 24.0 * system.cure_days * max(stretch, 1.0)
    return Schedule(system, coats, interval, cured, _food(system), why, _cautions(system, for_food))


def _lay(system: FinishSystem, interval: float, extra: int) -> tuple[Coat, ...]:
    coats: list[Coat] = []
    for i, (what, count) in enumerate(system.coats):
        for _ in range(count + (extra if i == 0 else 0)):
            n = len(coats)
            coats.append(Coat(n + 1, what, n * interval, interval if n else 0.0))
    return tuple(coats)


def _food(system: FinishSystem) -> Sentence:
    texts = {
        "yes": "Safe with food as it is.",
        "cured": "Safe with food once cured, not before: {cure_days} at 20 °C.",
        "no": "Not for food. Say so to whoever takes it.",
    }
    return say(f"food-{system.food}", texts[system.food], cure_days=system.cure_days)


def _cautions(system: FinishSystem, for_food: bool) -> tuple[Caution, ...]:
    cautions = []
    if for_food and system.food == "no":
        text = "This piece is meant for food and {finish} is not. Choose an oil."
        cautions.append(Caution("stop", say("not-for-food", text, finish=system.label)))
    if system.rags:
        text = "Oily rags take fire by themselves: lay them out flat or keep them under water."
        cautions.append(Caution("care", say("rags", text)))
    if system.nut:
        text = "Some drying oils come from nuts: note which, for those who are allergic."
        cautions.append(Caution("note", say("nut-oil", text)))
    cautions.append(Caution("note", say("vapours", "Air the room; the tin's own sheet governs.")))
    return tuple(cautions)
