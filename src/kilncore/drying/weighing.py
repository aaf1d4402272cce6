"""Is this weight believable, and if not, what was probably meant."""

import math
from dataclasses import dataclass

from kilncore.errors import require_range
from kilncore.said import Sentence, say
from kilncore.units import GRAMS_PER_OUNCE, GRAMS_PER_POUND

__all__ = ["Expected", "Question", "question_weight"]

# Mistakes of the hand and their factor: true weight = typed weight * factor.
_SLIPS: tuple[tuple[str, float, str], ...] = (
    ("extra-digit", 0.1, "Is there a zero too many? {meant_g} would fit."),
    ("missing-digit", 10.0, "Is a digit missing? {meant_g} would fit."),
    ("ounces", GRAMS_PER_OUNCE, "Were those ounces? That is {meant_g}."),
    ("pounds", GRAMS_PER_POUND, "Were those pounds? That is {meant_g}."),
    ("kilograms", 1000.0, "Were those kilograms? That is {meant_g}."),
)


@dataclass(frozen=True, slots=True)
class Expected:
    """What a piece should weigh now: mean and standard deviation in g."""

    tag: str
    mass_g: float
    sd_g: float

    def away(self, mass_g: float) -> float:
        """How far a weight lies from the expected one, as the logarithm of their ratio."""
        return abs(math.log(mass_g / self.mass_g))

    def fits(self, mass_g: float, *, within: float = 3.5) -> bool:
        """Whether a weight lies within so many standard deviations (never under 1.5 %).

        On the scale of ratios, so that a wide guess never takes in a tenth of itself.
        """
        return self.away(mass_g) <= within * max(self.sd_g / self.mass_g, 0.015)


@dataclass(frozen=True, slots=True)
class Question:
    """What is odd about a weight, and the weights or tags that were probably meant."""

    code: str
    sentence: Sentence
    meant_g: float | None = None
    meant_tags: tuple[str, ...] = ()


def question_weight(
    mass_g: float,
    *,
    expected: Expected,
    last_g: float | None = None,
    dry_low_g: float | None = None,
    others: tuple[Expected, ...] = (),
) -> Question | None:
    """Return what to ask about a weight, or None when it is believable.

    Parameters
    ----------
    mass_g : float
        Weight as typed, converted to grams. [g]
    expected : Expected
        From the piece's own forecast.
    last_g : float, optional
        Last accepted weight. [g]
    dry_low_g : float, optional
        Low end of its oven-dry mass. [g]
    others : tuple of Expected
        The other drying pieces, to find swapped tags.

    Returns
    -------
    question : Question or None
        Never a refusal: the turner decides.

    Raises
    ------
    OutOfRange
        For a weight that no scale shows: not above zero, or above 200 kg.
    """
    require_range("mass_g", mass_g, 0.1, 200_000.0, "A weight is a positive number.")
    rising = last_g is not None and mass_g > last_g * 1.01 + 3.0
    if expected.fits(mass_g) and not rising:
        return None
    slips = [slip for slip in _SLIPS if expected.fits(mass_g * slip[1], within=4.0)]
    if slips:
        code, factor, template = min(slips, key=lambda slip: expected.away(mass_g * slip[1]))
        return _asked(code, template, mass_g, expected, meant_g=round(mass_g * factor, 1))
    swapped = tuple(o.tag for o in others if o.fits(mass_g, within=1.0))[:3]
    if swapped and not expected.fits(mass_g, within=5.0):
        return _asked("swapped-tag", "It would fit {tags}. Swapped tags?", mass_g, expected, tags=swapped)
    if dry_low_g is not None and mass_g < 0.95 * dry_low_g:
        return _asked("below-dry", "That is less than its wood without any water.", mass_g, expected)
    if rising:
        return _asked(
            "rising",
            "It was {last_g} before: wood gains weight only in damper air, or the tag is another's.",
            mass_g,
            expected,
            last_g=last_g,
        )
    return _asked("outlier", "Was it turned, or is it another piece?", mass_g, expected)


def _asked(
    code: str,
    template: str,
    mass_g: float,
    expected: Expected,
    *,
    meant_g: float | None = None,
    last_g: float | None = None,
    tags: tuple[str, ...] = (),
) -> Question:
    params: dict[str, float | str] = {
        "mass_g": mass_g,
        "low_g": max(0.0, expected.mass_g - 2 * expected.sd_g),
        "high_g": expected.mass_g + 2 * expected.sd_g,
    }
    if meant_g is not None:
        params["meant_g"] = meant_g
    if last_g is not None:
        params["last_g"] = last_g
    if tags:
        params["tags"] = ", ".join(tags)
    text = "{mass_g}? Between {low_g} and {high_g} was expected. " + template
    return Question(code, say(code, text, **params), meant_g, tags)
