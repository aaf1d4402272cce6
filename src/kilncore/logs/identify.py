"""Which wood is it? Narrowing the species table by what can be seen, smelt and tried."""

import math
from dataclasses import dataclass
from functools import cache

from kilncore.errors import Unknown
from kilncore.said import Caution, Sentence, say
from kilncore.wood.species import Species, all_species, read_table

__all__ = ["SIGNS", "Guess", "Likely", "Sign", "keeps", "which_wood"]

# A sign read right, a sign the table does not know, a sign that contradicts it (assumed).
AGREES, SILENT, DIFFERS = 0.80, 0.35, 0.12
# Signs narrow, they never prove: no more than this is ever claimed.
MOST = 90.0
SOFT, HARD = 0.42, 0.54


@dataclass(frozen=True, slots=True)
class Sign:
    """A thing to look for, how to try it, and what may be found."""

    key: str
    label: str
    how: str
    choices: tuple[tuple[str, str], ...]


SIGNS: dict[str, Sign] = {
    s.key: s
    for s in (
        Sign("pores", "Ring pattern on a clean-cut end", "Cut a clean sliver across the end and wet it.",
             (("ring", "a ring of large holes each year"), ("semi-ring", "holes shrink through the year"),
              ("diffuse", "small holes all over"), ("conifer", "no holes, only dark and light"))),
        Sign("hardness", "Thumbnail on the side of the grain", "Press hard along a smooth face.",
             (("soft", "dents easily"), ("medium", "a faint mark"), ("hard", "no mark"))),
        Sign("heart", "Colour of the heart, fresh cut", "Look at once: most change within days.",
             (("white", "near white"), ("pale", "pale straw to tan"), ("brown", "brown"), ("dark", "dark chocolate"),
              ("red", "reddish"), ("yellow-green", "yellow or greenish"))),
        Sign("smell", "Smell when freshly cut", "Warm a shaving in the hand.",
             (("none", "hardly any"), ("sweet", "sweet"), ("sour", "sour, like vinegar or ink"),
              ("sharp", "sharp, spicy"), ("unpleasant", "unpleasant"), ("resin", "resin"), ("cedar", "pencil, cedar"))),
        Sign("glow", "Under an ultraviolet lamp, in the dark", "Never look into the lamp.",
             (("none", "dark or dull"), ("yellow-green", "glows yellow-green"))),
        Sign("rays", "Rays on a face cut through the middle", "Tilt it to the light.",
             (("fine", "hardly seen"), ("flecks", "small flecks"), ("bold", "broad bright ribbons"))),
        Sign("iron", "A wet nail left on it overnight", "Blue-black round the nail means tannin.",
             (("no", "no stain"), ("yes", "blue-black stain"))),
    )
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Likely:
    """A wood that fits, its share of what is likely, and the signs that speak against it."""

    key: str
    common: str
    share_pct: float
    against: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Guess:
    """The woods that fit best, what else to try, and how far to trust it."""

    likely: tuple[Likely, ...]
    words: Sentence
    next_sign: str | None
    cautions: tuple[Caution, ...]


@cache
def _table() -> dict[str, dict[str, str]]:
    return {row["key"]: row for row in read_table("species_signs.csv")}


def keeps(key: str) -> str:
    """Return how fast the felled wood goes off: fast, middling or slow; middling where unknown."""
    return _table().get(key, {}).get("keeps") or "middling"


def _sign_of(wood: Species, sign: str) -> str:
    if sign == "pores":
        return wood.kind
    if sign == "hardness":
        if wood.gb.from_class:
            return ""
        return "soft" if wood.gb.typical < SOFT else "hard" if wood.gb.typical > HARD else "medium"
    return _table()[wood.key].get(sign, "")


def _fit(wood: Species, sign: str, seen: str) -> float:
    own = _sign_of(wood, sign)
    if not own:
        return SILENT
    if own == seen:
        return AGREES
    order = [key for key, _ in SIGNS[sign].choices]
    # Neighbours on a scale (soft, medium, hard) are easily taken for each other.
    near = sign in ("hardness", "rays", "pores") and abs(order.index(own) - order.index(seen)) == 1
    return SILENT if near else DIFFERS


def which_wood(seen: dict[str, str]) -> Guess:
    """Return which woods fit what was seen, honest about doubt.

    Parameters
    ----------
    seen : dict of str
        By sign key, what was found; signs not tried are left out.

    Returns
    -------
    guess : Guess
        At most eight woods; shares over the whole table, never above 90 %.

    Raises
    ------
    Unknown
        For a sign or an answer that is not in ``SIGNS``.

    References
    ----------
    .. [assumed] the signs, from memory; naive Bayes with even chances for every wood of the table.
    """
    for sign, value in seen.items():
        if sign not in SIGNS:
            raise Unknown("sign", sign, list(SIGNS))
        if value not in dict(SIGNS[sign].choices):
            raise Unknown(sign, value, list(dict(SIGNS[sign].choices)))
    woods = [wood for key, wood in all_species().items() if key in _table()]
    chance = {w.key: math.prod(_fit(w, sign, value) for sign, value in seen.items()) for w in woods}
    total = sum(chance.values())
    ranked = sorted(woods, key=lambda w: -chance[w.key])[:8]
    likely = tuple(
        Likely(
            w.key,
            w.common,
            round(min(MOST, 100.0 * chance[w.key] / total), 1),
            tuple(s for s, v in seen.items() if _fit(w, s, v) == DIFFERS),
        )
        for w in ranked
    )
    lamp = Caution("care", say("lamp", "Never look into an ultraviolet lamp, nor point it at anyone's eyes."))
    return Guess(likely, _words(likely, seen), _next(woods, chance, seen), (lamp,))


def _words(likely: tuple[Likely, ...], seen: dict[str, str]) -> Sentence:
    if not seen:
        return say("nothing-seen", "Nothing tried yet: every wood of the table is as likely as another.")
    best = likely[0]
    if best.against:
        return say(
            "nothing-fits",
            "Nothing in the table fits all of it; {wood} comes nearest. It may be a wood we do not list.",
            wood=best.common,
        )
    if best.share_pct < 25.0:
        return say("many-fit", "Several woods fit as well as {wood}. Try another sign.", wood=best.common)
    return say(
        "best-fit",
        "{wood} fits best. Signs narrow, they do not prove: woods outside of the table may look the same.",
        wood=best.common,
    )


def _next(woods: list[Species], chance: dict[str, float], seen: dict[str, str]) -> str | None:
    """The untried sign that would split the likely woods best (greatest entropy of its answers)."""
    total = sum(chance.values())
    best, most = None, 0.05
    for sign in SIGNS:
        if sign in seen:
            continue
        shares: dict[str, float] = {}
        for wood in woods:
            own = _sign_of(wood, sign) or "?"
            shares[own] = shares.get(own, 0.0) + chance[wood.key] / total
        entropy = -sum(p * math.log(p) for p in shares.values() if p > 0.0)
        if entropy > most:
            best, most = sign, entropy
    return best
