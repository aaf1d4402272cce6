"""What in the yard goes off first, and why."""

import math
from dataclasses import dataclass

from kilncore.errors import require_range
from kilncore.logs.identify import keeps
from kilncore.said import Sentence, say
from kilncore.wood.species import species

__all__ = ["KEEP_DAYS", "Keeping", "keeping", "season_c"]

# Days a log stays sound at 15 °C, bark on, by how fast its wood goes off (assumed; the trade
# counts weeks in a warm summer for pale woods, a year and more for durable hearts).
KEEP_DAYS = {"fast": 70.0, "middling": 160.0, "slow": 420.0}
SEALED, WILD, CRACKED, ROT = 1.6, 0.8, 0.75, 0.5
REFERENCE_C = 15.0
# Fungi and drying both about double with ten degrees (rule of thumb), and stop in frost.
Q10 = 2.0


@dataclass(frozen=True, slots=True)
class Keeping:
    """How much of its time a log has used up. ``used_pct`` above 100: it is going off."""

    used_pct: float
    left_days: float
    level: str
    words: Sentence


def season_c(day_of_year: float, *, mean_c: float = 10.0, swing_c: float = 8.0) -> float:
    """Return the outdoor temperature of a day, coldest in mid January (northern half).

    Parameters
    ----------
    day_of_year : float
        1 to 366.
    mean_c, swing_c : float
        Mean of the year and half the difference of summer and winter. [°C]

    Returns
    -------
    air_c : float
        Mean of the day. [°C]

    References
    ----------
    .. [assumed] a cosine; a place with a logger uses its own.
    """
    return mean_c - swing_c * math.cos(2.0 * math.pi * (day_of_year - 15.0) / 365.25)


def keeping(
    species_key: str,
    *,
    since_days: float,
    day_of_year: float,
    sealed: bool,
    faults: tuple[str, ...] = (),
    mean_c: float = 10.0,
    swing_c: float = 8.0,
) -> Keeping:
    """Return how far a log has gone, from its wood, the season and its ends.

    Parameters
    ----------
    species_key : str
        Wood.
    since_days : float
        Since felling. [d]
    day_of_year : float
        Today's.
    sealed : bool
        Whether its ends are sealed.
    faults : tuple of str
        cracked, rot.
    mean_c, swing_c : float
        Climate where it lies. [°C]

    Returns
    -------
    keeping : Keeping
        Share of its time used, days left at this season's warmth, in words.

    References
    ----------
    .. [assumed] times and factors, for ordering the yard and no more.
    """
    require_range("since_days", since_days, 0.0, 20_000.0)
    wood = species(species_key)
    pace = keeps(species_key)
    sound = KEEP_DAYS[pace] * (SEALED if sealed else 1.0)
    for holds, factor in ((wood.is_wild, WILD), ("cracked" in faults, CRACKED), ("rot" in faults, ROT)):
        sound *= factor if holds else 1.0
    warm = sum(
        _warmth(season_c(day_of_year - d, mean_c=mean_c, swing_c=swing_c))
        for d in range(math.ceil(since_days))
    )
    used = 100.0 * warm / sound
    now = max(_warmth(season_c(day_of_year, mean_c=mean_c, swing_c=swing_c)), 0.05)
    left = max(0.0, (sound - warm) / now)
    level = "over" if used >= 100.0 else "soon" if used >= 60.0 else "sound"
    return Keeping(
        round(used, 1), round(left, 1), level, _words(wood.common, pace, sealed, level, since_days, left)
    )


def _about(days: float) -> float:
    """No more figures than such a guess has."""
    return float(round(days, -1 if days >= 60.0 else 0))


def _warmth(air_c: float) -> float:
    """Days at the reference a day at this temperature counts for; frost stops it."""
    return 0.0 if air_c <= 0.0 else Q10 ** ((air_c - REFERENCE_C) / 10.0)


def _words(common: str, pace: str, sealed: bool, level: str, since: float, left: float) -> Sentence:
    manner = {"fast": "goes off fast", "middling": "keeps middling well", "slow": "keeps long"}[pace]
    ends = "its ends are sealed" if sealed else "its ends are bare"
    end = {
        "over": "Its time is up: cut it first, or expect stain and checks.",
        "soon": "About {left_days} left at this season's warmth: cut it soon.",
        "sound": "About {left_days} left at this season's warmth.",
    }[level]
    return say(
        f"keeps-{level}",
        "{wood} {manner}; felled {since_days} ago, {ends}. " + end,
        wood=common, manner=manner, ends=ends, since_days=round(since), left_days=_about(left),
    )  # fmt: skip
