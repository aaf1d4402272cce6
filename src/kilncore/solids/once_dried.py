"""What becomes of a drawn form once dry: as it lay in the log, the other way up, and what round bowl is left."""

from dataclasses import dataclass

from kilncore.rules.wall import clean_up_mm
from kilncore.said import Figure, say
from kilncore.solids.curve import Path
from kilncore.solids.warp import (
    ORIENTATIONS,
    Dried,
    Pith,
    dried_shape,
    left_in,
    needed_wall_mm,
    pith_from_rim,
)
from kilncore.wood.species import Species

__all__ = ["OnceDried", "once_dried", "pith_of"]


@dataclass(frozen=True, slots=True)
class OnceDried:
    """The dried shape, the same wood with its other side up where that is a choice, and figures."""

    dried: Dried
    other: Dried | None
    label: str
    other_label: str
    figures: tuple[Figure, ...]


def pith_of(outer: Path, *, orientation: str, pith_mm: float, off_mm: float = 0.0) -> Pith:
    """Return where the pith runs in the heights of a form.

    Parameters
    ----------
    outer : tuple of (float, float)
        Axis to rim, mm.
    orientation : str
        A key of ``ORIENTATIONS``.
    pith_mm : float
        Rim plane to pith of side grain, axis to pith of end grain. [mm]
    off_mm : float
        Beside the axis, in side grain. [mm]

    Returns
    -------
    pith : Pith
        Above the rim where it is turned towards the pith, else below.

    Raises
    ------
    Unknown
        For another orientation.
    """
    return pith_from_rim(orientation, rim_mm=outer[-1][1], pith_mm=pith_mm, off_mm=off_mm)


def _other_way_up(outer: Path, pith: Pith) -> Pith | None:
    """The same wood turned over: as far from the pith, on its other side; end grain has no other side."""
    if pith.orientation == "end-grain":
        return None
    over = "rim-to-bark" if pith.orientation == "rim-to-pith" else "rim-to-pith"
    return Pith(over, outer[-1][1] + outer[0][1] - pith.z_mm, pith.off_mm)


def once_dried(
    outer: Path, inner: Path, *, pith: Pith, wood: Species, mc_pct: float, finish_wall_mm: float | None
) -> OnceDried:
    """Return the dried shape beside the other way up, and the round bowl left in it.

    Parameters
    ----------
    outer, inner : tuple of (float, float)
        Green, axis to rim, mm.
    pith : Pith
        The log's middle.
    wood : Species
        Its shrinkage.
    mc_pct : float
        Moisture reached. [%]
    finish_wall_mm : float or None
        Wall of the finished bowl the rough one is reckoned for; None where no round bowl is wanted. [mm]

    Returns
    -------
    once_dried : OnceDried
        With the rough wall this outline would need, beside the tenth rule.

    References
    ----------
    .. [geometry] full envelope of the dried points.
    """
    there = _other_way_up(outer, pith)
    return OnceDried(
        dried=dried_shape(outer, inner, pith=pith, wood=wood, mc_pct=mc_pct),
        other=dried_shape(outer, inner, pith=there, wood=wood, mc_pct=mc_pct) if there else None,
        label=ORIENTATIONS[pith.orientation],
        other_label=ORIENTATIONS[there.orientation] if there else "",
        figures=_left(outer, inner, pith=pith, wood=wood, mc_pct=mc_pct, wanted=finish_wall_mm)
        if finish_wall_mm is not None
        else (),
    )


def _left(
    outer: Path, inner: Path, *, pith: Pith, wood: Species, mc_pct: float, wanted: float
) -> tuple[Figure, ...]:
    wide, wall = left_in(outer, inner, pith=pith, wood=wood, mc_pct=mc_pct)
    clean = clean_up_mm(min(max(wide, 30.0), 1200.0), wild=wood.is_wild)
    rough, thick = needed_wall_mm(
        outer, finish_wall_mm=wanted, clean_mm=clean, pith=pith, wood=wood, mc_pct=mc_pct
    )
    across = 2.0 * max(r for r, _ in outer)
    text = (
        "Roughed {rough_mm} across with this wall, a round bowl of {finish_mm} and {wall_mm} is still in it once "
        "dry; a tenth of the width would be {tenth_mm}."
    )
    return (
        Figure("left_mm", "Largest ring still inside", value=round(wide - 2 * clean, 1), source="geometry", group="warp",
               why=say("left", "Least radius of the dried rim twice over, {clean_mm} cleaned off each face.", clean_mm=clean)),
        Figure("wall_left_mm", "Round wall left in it", value=round(max(wall - 2 * clean, 0.0), 1), source="geometry", group="warp",
               why=say("wall-left-full", "At every height the least outer less the greatest inner radius, {clean_mm} off each face.", clean_mm=clean)),
        Figure("rough_wall_mm", "Rough wall for this as the finished bowl", value=round(thick, 1), source="geometry", group="warp",
               why=say("rough-full", text, rough_mm=rough, finish_mm=across, wall_mm=wanted, tenth_mm=rough / 10.0)),
    )  # fmt: skip
