"""What if it were kept another way: the ways side by side, from what its weights have taught."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from kilncore.drying.forecast import (
    MOULD_GROWS,
    MOULD_LEVELS,
    RISK_LEVELS,
    Lived,
    Posterior,
    Span,
    _crossing,
    _quantile,
    _span,
    level_of,
    posterior,
)
from kilncore.drying.microwave import GOES_A_DAY, go_seconds
from kilncore.drying.model import (
    DryingPiece,
    Go,
    Run,
    Treatment,
    Unknowns,
    equivalent_wall_mm,
    evaporated_g,
    simulate,
)
from kilncore.errors import require_range
from kilncore.said import Sentence, say
from kilncore.wood.emc import Isotherm, emc_pct

__all__ = ["KEEPS", "Block", "Keep", "PlanStep", "WayAhead", "ways_ahead"]

Array = NDArray[np.float64]
# Draws carried through each way: enough for a span, few enough for a quick answer.
DRAWS = 48
# How far ahead a way is followed: what takes longer is "years".
AHEAD_DAYS = 730.0
BOX_C, BOX_RH_PCT = 40.0, 45.0
POWER_W = 900.0
MOST_GOES = 30


@dataclass(frozen=True, slots=True)
class Keep:
    """A way of keeping it: what it is called, what it costs in hands and care."""

    key: str
    label: str
    effort: str
    good_for: str


KEEPS: dict[str, Keep] = {
    k.key: k
    for k in (
        Keep("as-it-is", "As it lies now", "nothing to do", ""),
        Keep("shelf", "Open on the shelf", "nothing to do", "thin walls and calm woods"),
        Keep("bag", "Paper bag, then the shelf", "bag it, open it later", "most rough-outs"),
        Keep("sealed", "Sealed all over", "half an hour with wax or sealer", "wild woods, thick walls"),
        Keep("plastic", "Plastic with shavings, then the shelf", "turn the shavings every few days",
             "wild woods in dry or hot rooms"),
        Keep("box", "Warm box", "a box with a lamp or heater", "the last third, once below 25 %"),
        Keep("microwave", "Microwave goes, then the shelf", "several goes a day, weighed each time",
             "thin, small bowls"),
        Keep("whole", "Leave it whole", "seal the ends and wait", "fruit woods kept for later"),
    )
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Block:
    """The blank while it is not turned yet. mm."""

    width_mm: float
    height_mm: float
    length_mm: float


@dataclass(frozen=True, slots=True)
class PlanStep:
    """One thing to do, days from now. kind: move, weigh, microwave or turn."""

    in_days: float
    kind: str
    wrap: str
    ends_sealed: bool
    words: Sentence


@dataclass(frozen=True, slots=True)
class WayAhead:
    """One way from now on. Days are from now; ``ready`` None where it never comes.

    ``settled_in_days``: within one of where that air lets it settle.

    ``risk`` and ``mould`` are the middle of the draws at their worst.
    """

    key: str
    label: str
    ready_in_days: Span
    settled_in_days: Span
    never_pct: float
    risk: float
    risk_level: str
    mould: float
    mould_level: str
    settles_at_pct: float
    oval_mm: float
    visits: int
    effort: str
    good_for: str
    verdict: Sentence
    steps: tuple[PlanStep, ...]


def ways_ahead(
    piece: DryingPiece,
    lived: Lived,
    *,
    now_days: float,
    target_mc_pct: float,
    shelf: tuple[Treatment, ...],
    oval_mm: float = 0.0,
    block: Block | None = None,
) -> tuple[WayAhead, ...]:
    """Return the ways of keeping a piece from now on, side by side.

    Parameters
    ----------
    piece : DryingPiece
        Sizes and wood.
    lived : Lived
        What it has been through.
    now_days : float
        Days since drying began. [d]
    target_mc_pct : float
        Moisture wanted. [%]
    shelf : tuple of Treatment
        Air of the shelf it would go to, from now on: days from now, the first at 0.
    oval_mm : float
        How oval it will be when dry, the same for every way. [mm]
    block : Block, optional
        Given while it is still a blank: then it may also be left whole.

    Returns
    -------
    ways : tuple of WayAhead
        In the order of ``KEEPS``; the same draws in each, so that only the way differs.

    References
    ----------
    .. [assumed] box of 40 °C and 45 %; moves out of bag and plastic when the danger is over.
    """
    require_range("target_mc_pct", target_mc_pct, 2.0, 30.0)
    post = posterior(piece, lived, until_days=max(now_days, 0.05))
    chosen = _few(post.weights)
    unknowns = Unknowns.from_matrix(_matrix(post.unknowns)[chosen])
    asked = _Asked(piece, lived, now_days, target_mc_pct, shelf, unknowns, post, oval_mm, block)
    keys = [k for k in KEEPS if (k != "whole" or block is not None) and (k != "as-it-is" or now_days > 0.0)]
    return tuple(_way(asked, KEEPS[key]) for key in keys)


@dataclass(frozen=True, slots=True)
class _Asked:
    piece: DryingPiece
    lived: Lived
    now: float
    target: float
    shelf: tuple[Treatment, ...]
    unknowns: Unknowns
    post: Posterior
    oval_mm: float
    block: Block | None

    @property
    def last(self) -> Treatment:
        return max((t for t in self.lived.treatments if t.start_days <= self.now), key=lambda t: t.start_days)


def _few(weights: Array) -> NDArray[np.intp]:
    """Systematic resampling to ``DRAWS`` draws of equal weight."""
    ticks = (np.arange(DRAWS) + 0.5) / DRAWS
    return np.minimum(np.searchsorted(np.cumsum(weights), ticks), len(weights) - 1)


def _matrix(unknowns: Unknowns) -> Array:
    return np.stack([unknowns.ln_k, unknowns.ln_r, unknowns.ln_mc, unknowns.rh_pct, unknowns.tail], axis=1)


def _wet_days(asked: _Asked, ahead: tuple[Treatment, ...], mc_pct: float) -> float:
    """Days from now, kept like this, until the middle of the draws is at a moisture (60 at most)."""
    run = simulate(
        asked.piece,
        _then(asked, ahead),
        until_days=asked.now + 60.0,
        unknowns=asked.unknowns,
        deeds=asked.lived.deeds,
    )
    middle = np.median(run.mean, axis=1)
    there = np.flatnonzero((middle <= mc_pct / 100.0) & (run.times_days >= asked.now))
    return float(run.times_days[there[0]] - asked.now) if len(there) else 60.0


def _then(asked: _Asked, ahead: tuple[Treatment, ...]) -> tuple[Treatment, ...]:
    """What it has been through, then what is to come (given in days from now)."""
    start = min(t.start_days for t in ahead)
    before = tuple(t for t in asked.lived.treatments if t.start_days < asked.now + start - 1e-6)
    return (*before, *(replace(t, start_days=t.start_days + asked.now) for t in ahead))


def _on(
    asked: _Asked, wrap: str, *, sealed: bool | None = None, start: float = 0.0, end: float = AHEAD_DAYS
) -> tuple[Treatment, ...]:
    """The shelf's air from one day to another, kept in a wrap; days from now."""
    kept = asked.last.ends_sealed if sealed is None else sealed
    before = [t for t in asked.shelf if t.start_days <= start + 1e-9]
    inside = [t for t in asked.shelf if start + 1e-9 < t.start_days < end]
    first = replace(before[-1], start_days=start, gentle=False)
    return tuple(replace(t, wrap=wrap, ends_sealed=kept) for t in (first, *inside))


def _plan(asked: _Asked, key: str) -> tuple[tuple[Treatment, ...], tuple[PlanStep, ...]]:
    """Treatments from now on (days from now) and what to do when."""
    if key == "as-it-is":
        later = tuple(
            replace(t, start_days=t.start_days - asked.now)
            for t in asked.lived.treatments
            if t.start_days > asked.now
        )
        return (replace(asked.last, start_days=0.0), *later), ()
    if key == "box":
        way: tuple[Treatment, ...] = (Treatment(0.0, BOX_C, BOX_RH_PCT, "fan-box", asked.last.ends_sealed),)
        return way, (_move(0.0, way[0], "Into the warm box at 40 °C; look at it every day."),)
    if key == "shelf":
        way = _on(asked, "open-shelf")
        return way, (_move(0.0, way[0], "Put it open on the shelf."),)
    if key == "sealed":
        way = _on(asked, "waxed", sealed=True)
        return way, (_move(0.0, way[0], "Wax or seal it all over, end grain twice."),)
    if key == "bag":  # below 20 % the danger is over
        return _two(asked, "paper-bag", 20.0, "Into a paper bag, closed.", "Out of the bag, onto the shelf.")
    return _two(
        asked, "plastic-loose", 28.0, "Into a plastic bag with its shavings, loosely closed.",
        "Out of the plastic, onto the shelf, before it moulds.",
    )  # fmt: skip


def _two(
    asked: _Asked, wrap: str, mc_pct: float, words: str, later: str
) -> tuple[tuple[Treatment, ...], tuple[PlanStep, ...]]:
    out = max(1.0, round(_wet_days(asked, _on(asked, wrap), mc_pct)))
    first, then = _on(asked, wrap, end=out), _on(asked, "open-shelf", start=out)
    return (*first, *then), (_move(0.0, first[0], words), _move(out, then[0], later))


def _move(at: float, way: Treatment, words: str) -> PlanStep:
    return PlanStep(at, "move", way.wrap, way.ends_sealed, say("plan-move", words))


def _goes(asked: _Asked) -> tuple[Go, ...]:
    """Goes, three a day, until the middle of the draws would be there."""
    wet = 100.0 * float(asked.post.weights @ asked.post.run.mean[-1])
    dry = asked.piece.dry_mass_g * float(asked.post.weights @ asked.post.run.kept[-1])
    goes: list[Go] = []
    while wet > asked.target and len(goes) < MOST_GOES:
        seconds = go_seconds(dry * (1.0 + wet / 100.0), power_w=POWER_W)
        goes.append(Go(asked.now + 0.05 + len(goes) / GOES_A_DAY, POWER_W, seconds))
        wet -= 100.0 * float(evaporated_g(POWER_W, seconds, np.array([wet]))[0]) / dry
    return tuple(goes)


def _way(asked: _Asked, keep: Keep) -> WayAhead:
    piece, deeds = asked.piece, asked.lived.deeds
    if keep.key == "whole" and asked.block is not None:
        wide = equivalent_wall_mm(
            asked.block.width_mm, asked.block.height_mm, length_mm=asked.block.length_mm, ends_sealed=True
        )
        piece = replace(piece, grain="block", wall_mm=min(wide, 120.0), foot_mm=min(wide, 120.0))
        ahead = _on(asked, "open-shelf", sealed=True)
        steps: tuple[PlanStep, ...] = (_move(0.0, ahead[0], "Seal both ends and put it by, off the ground."),)
    elif keep.key == "microwave":
        goes = _goes(asked)
        ahead, _ = _plan(asked, "shelf")
        deeds = (*deeds, *goes)
        steps = tuple(
            PlanStep(round(g.at_days - asked.now, 2), "microwave", "open-shelf", False,
                     say("plan-go", "Go {number}: {seconds} s, rest until cold, weigh.", number=str(i + 1),
                         seconds=str(round(g.seconds))))
            for i, g in enumerate(goes)
        )  # fmt: skip
    else:
        ahead, steps = _plan(asked, keep.key)
    run = simulate(
        piece, _then(asked, ahead), until_days=asked.now + AHEAD_DAYS, unknowns=asked.unknowns,
        stops=(max(asked.now, 0.01),), deeds=deeds, enough=asked.target / 100.0,
    )  # fmt: skip
    last = ahead[-1]
    return _told(asked, keep, run, last, steps)


def _rests(asked: _Asked, last: Treatment) -> Array:
    """Moisture each draw settles at in the last air, its doubt about the air included. [%]."""
    rh = np.clip(last.rh_pct + asked.unknowns.rh_pct, 1.0, 99.0) / 100.0
    return 100.0 * Isotherm(last.air_c).moisture(rh)


def _told(
    asked: _Asked,
    keep: Keep,
    run: Run,
    last: Treatment,
    steps: tuple[PlanStep, ...],
) -> WayAhead:
    times, mean, risk, mould = run.times_days, run.mean, run.risk, run.mould
    even = np.full(mean.shape[1], 1.0 / mean.shape[1])
    ahead = times >= asked.now - 1e-9
    ready = np.maximum(_crossing(times, mean, asked.target / 100.0) - asked.now, 0.01)
    # The slowest few were not followed to their end: late where this air dries them that far, else never.
    rests = _rests(asked, last)
    late = ~np.isfinite(ready) & (rests < asked.target)
    settled = np.maximum(_crossing(times, mean, (rests + 1.0) / 100.0) - asked.now, 0.01)
    ready = np.where(late, 1.5 * (times[-1] - asked.now) + 1.0, ready)
    worst = _quantile(risk[ahead].max(axis=0), even, 0.5) or 0.0
    until = np.where(np.isfinite(ready), np.searchsorted(times, ready + asked.now), len(times) - 1)
    dose = mould[np.minimum(until, len(times) - 1).astype(int), np.arange(mould.shape[1])]
    mouldy = _quantile(dose, even, 0.5) or 0.0
    sofar = _quantile(mould[int(np.argmax(ahead))], even, 0.5) or 0.0
    span = _span(ready, even)
    never = float(100.0 * (~np.isfinite(ready)).mean())
    levels = level_of(worst, RISK_LEVELS), level_of(mouldy, MOULD_LEVELS)
    if mouldy - sofar < MOULD_GROWS:  # what has grown is past; this way adds nothing to it
        levels = levels[0], "ok"
    weighings = int(min(40, 3 + (span.middle or AHEAD_DAYS) / 14.0))
    goes = sum(s.kind == "microwave" for s in steps)
    return WayAhead(
        key=keep.key,
        label=keep.label,
        ready_in_days=_rounded(span),
        settled_in_days=_rounded(_span(settled, even)),
        never_pct=round(never, 1),
        risk=round(worst, 2),
        risk_level=levels[0],
        mould=round(mouldy, 1),
        mould_level=levels[1],
        settles_at_pct=round(emc_pct(last.air_c, rh_pct=last.rh_pct), 1),
        oval_mm=0.0 if keep.key == "whole" else round(asked.oval_mm, 1),
        visits=weighings + len(steps) + goes,
        effort=keep.effort,
        good_for=keep.good_for,
        verdict=_verdict(keep, levels, span, goes),
        steps=steps,
    )


def _rounded(span: Span) -> Span:
    return Span(*(None if v is None else round(v, 1) for v in (span.low, span.middle, span.high)))


def _verdict(keep: Keep, levels: tuple[str, str], span: Span, goes: int) -> Sentence:
    if goes >= MOST_GOES:
        return say("way-many-goes", "Too much water for the oven: dry it below 25 % first.")
    if levels[0] == "stop":
        return say("way-checks", "Likely to check: too fast for this wall.")
    if levels[1] == "stop":
        return say("way-moulds", "Likely to mould before it is dry.")
    if span.middle is None:
        return say("way-never", "Does not get there in this air; it wants a drier place for the last part.")
    if "care" in levels:
        return say("way-watch", "Goes, with an eye on it.")
    return say("way-sound", "Sound." if keep.key != "whole" else "Sound, and it can still become anything.")
