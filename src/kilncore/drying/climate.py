"""The air of a place over the year: typed by season, or read off a logger."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kilncore.drying.model import Treatment
from kilncore.errors import require_range
from kilncore.said import Sentence, say
from kilncore.wood.emc import emc_pct, rh_pct_from_emc

__all__ = ["SEASONS", "Air", "BoxAir", "PlaceAir", "Spell", "Stay", "box_air", "spells_of", "treatments_of"]

# Season and the day of the year it begins on (northern half; a workshop in the south shifts by
# half a year).
SEASONS: dict[str, float] = {"spring": 60.0, "summer": 152.0, "autumn": 244.0, "winter": 335.0}
YEAR_DAYS = 365.25
WEEK_DAYS = 7.0
# Weeks nearer than this are one spell: finer would only cost steps.
SAME_C, SAME_RH_PCT = 1.0, 2.0
# Readings a whole week must have to speak for it.
LEAST_READINGS = 3


@dataclass(frozen=True, slots=True)
class Air:
    """Temperature and humidity."""

    air_c: float
    rh_pct: float

    def __post_init__(self) -> None:
        require_range("air_c", self.air_c, -5.0, 80.0, "Frozen wood hardly dries at all.")
        require_range("rh_pct", self.rh_pct, 1.0, 99.0)


@dataclass(frozen=True, slots=True)
class Spell:
    """Air from one moment to another, in days on a clock of the caller's."""

    start_days: float
    end_days: float
    air: Air


@dataclass(frozen=True, slots=True)
class PlaceAir:
    """What is known of a place: its usual air, by season where typed, and what a logger read."""

    usual: Air
    seasons: tuple[tuple[str, Air], ...] = ()
    logged: tuple[Spell, ...] = ()

    def season(self, day_of_year: float) -> Air:
        """Return the air of a day of the year; the usual where its season was not typed."""
        begun = [key for key, first in SEASONS.items() if day_of_year % YEAR_DAYS >= first]
        return dict(self.seasons).get(begun[-1] if begun else "winter", self.usual)


@dataclass(frozen=True, slots=True)
class Stay:
    """From when on it lay in which place and wrap."""

    start_days: float
    place: PlaceAir
    wrap: str
    ends_sealed: bool = False


def spells_of(days: Sequence[float], *, air_c: Sequence[float], rh_pct: Sequence[float]) -> tuple[Spell, ...]:
    """Return whole weeks of a logger's readings as spells of steady air.

    Parameters
    ----------
    days : sequence of float
        Moments of the readings, any order. [d]
    air_c, rh_pct : sequence of float
        Readings. [°C, %]

    Returns
    -------
    spells : tuple of Spell
        Weeks counted from day 0 on the caller's clock; like weeks are joined; a week with
        fewer than three readings, or not over yet, is left out.
    """
    t, c, h = (np.asarray(v, dtype=float) for v in (days, air_c, rh_pct))
    if not len(t):
        return ()
    weeks = np.floor(t / WEEK_DAYS)
    spells: list[Spell] = []
    for week in np.unique(weeks)[:-1] if t.max() % WEEK_DAYS < WEEK_DAYS - 1.5 else np.unique(weeks):
        inside = weeks == week
        if inside.sum() < LEAST_READINGS:
            continue
        air = Air(float(np.clip(c[inside].mean(), -5.0, 80.0)), float(np.clip(h[inside].mean(), 1.0, 99.0)))
        start = float(week * WEEK_DAYS)
        last = spells[-1] if spells else None
        if last and last.end_days == start and _alike(last.air, air):
            share = WEEK_DAYS / (start + WEEK_DAYS - last.start_days)
            spells[-1] = Spell(last.start_days, start + WEEK_DAYS, _mixed(last.air, air, share))
        else:
            spells.append(Spell(start, start + WEEK_DAYS, air))
    return tuple(spells)


def _alike(one: Air, two: Air) -> bool:
    return abs(one.air_c - two.air_c) <= SAME_C and abs(one.rh_pct - two.rh_pct) <= SAME_RH_PCT


def _mixed(old: Air, new: Air, share: float) -> Air:
    return Air(old.air_c + share * (new.air_c - old.air_c), old.rh_pct + share * (new.rh_pct - old.rh_pct))


def treatments_of(
    stays: tuple[Stay, ...], *, until_days: float, day_of_year: float, clock_days: float
) -> tuple[Treatment, ...]:
    """Return the treatments a piece had and will have, stays cut where the air changed.

    Parameters
    ----------
    stays : tuple of Stay
        Since drying began, ascending from day 0.
    until_days : float
        How far ahead the seasons are followed. [d]
    day_of_year : float
        On which drying began.
    clock_days : float
        Day 0 of the drying on the clock of the places' spells. [d]

    Returns
    -------
    treatments : tuple of Treatment
        A change of air alone is gentle: no new start for the steps.
    """
    found: list[Treatment] = []
    ends = [s.start_days for s in stays[1:]] + [until_days]
    for stay, end in zip(stays, ends, strict=True):
        begin = stay.start_days
        first = True
        for start in _cuts(stay.place, begin, end, day_of_year, clock_days):
            air = _air_at(stay.place, start, day_of_year, clock_days)
            made = Treatment(start, air.air_c, air.rh_pct, stay.wrap, stay.ends_sealed, gentle=not first)
            if first or (made.air_c, made.rh_pct) != (found[-1].air_c, found[-1].rh_pct):
                found.append(made)
            first = False
    return tuple(found)


def _cuts(place: PlaceAir, begin: float, end: float, day_of_year: float, clock: float) -> list[float]:
    """Moments within a stay at which its air may change."""
    cuts = {begin}
    for spell in place.logged:
        cuts |= {spell.start_days - clock, spell.end_days - clock}
    if place.seasons:
        year = math.floor((day_of_year + begin) / YEAR_DAYS)
        while year * YEAR_DAYS - day_of_year < end:
            cuts |= {year * YEAR_DAYS + first - day_of_year for first in SEASONS.values()}
            year += 1
    return sorted(c for c in cuts if begin <= c < end)


def _air_at(place: PlaceAir, day: float, day_of_year: float, clock: float) -> Air:
    for spell in place.logged:
        if spell.start_days - 1e-9 <= day + clock < spell.end_days - 1e-9:
            return spell.air
    return place.season(day_of_year + day + 1e-6)


@dataclass(frozen=True, slots=True)
class BoxAir:
    """What a box needs to bring wood to a moisture.

    The humidity at its warmth, or the warmth that makes the room's own air dry enough
    (None where no heating does).
    """

    rh_pct: float
    heat_to_c: float | None
    words: Sentence


def box_air(target_mc_pct: float, *, box_c: float, room: Air) -> BoxAir:
    """Return the humidity a box must hold, and how warm the room's air would have to be made.

    Parameters
    ----------
    target_mc_pct : float
        Moisture the wood shall settle at. [%]
    box_c : float
        Warmth in the box. [°C]
    room : Air
        The air it draws from.

    Returns
    -------
    box : BoxAir
        With the reason in words.

    Raises
    ------
    CoreError
        For a moisture no air holds at that warmth.

    References
    ----------
    .. [wood-handbook] ch. 4, EMC and its inverse; heating keeps the vapour, Magnus form [assumed].
    """
    require_range("target_mc_pct", target_mc_pct, 3.0, 22.0)
    require_range("box_c", box_c, 0.0, 70.0, "Above 70 °C wood and its fire risk follow other rules.")
    rh = rh_pct_from_emc(box_c, wanted_pct=target_mc_pct)
    vapour = _pressure(room.air_c) * room.rh_pct

    def settles(c: float) -> float:
        return emc_pct(c, rh_pct=max(min(vapour / _pressure(c), 99.0), 0.5))

    low, high = room.air_c, 70.0
    if settles(low) <= target_mc_pct:
        heat: float | None = room.air_c
    elif settles(high) > target_mc_pct:
        heat = None
    else:
        for _ in range(40):
            middle = 0.5 * (low + high)
            low, high = (low, middle) if settles(middle) <= target_mc_pct else (middle, high)
        heat = high
    text = "At {box_c} the air must hold {rh_pct} for wood to settle at {target_mc_pct}."
    if heat is None:
        text += " Heating this room's air alone does not get there: a dryer is needed."
    elif heat <= room.air_c + 0.05:
        text += " The room's own air is dry enough already."
    else:
        text += " Heating the room's air to {heat_c} does it without a dryer."
    words = say(
        "box",
        text,
        box_c=box_c,
        rh_pct=rh,
        target_mc_pct=target_mc_pct,
        heat_c=heat if heat is not None else 0.0,
    )
    return BoxAir(round(rh, 1), None if heat is None else round(heat, 1), words)


def _pressure(air_c: float) -> float:
    """Saturation pressure by the Magnus form; only ratios are used."""
    return math.exp(17.625 * air_c / (air_c + 243.04))
