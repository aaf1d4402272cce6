"""What the engine is told about a piece, from its sizes and species."""

from typing import Any

from kilncore.drying.model import DryingPiece
from kilncore.errors import CoreError
from kilncore.route.facts import PieceFacts
from kilncore.solids.revolve import foot_share, vessel
from kilncore.wood.moisture import oven_dry_mass_g
from kilncore.wood.species import Known

__all__ = ["Brings", "drying_piece"]

Brings = dict[str, Any]

# What a solid block of unknown turning promises is far less sure than a measured vessel.
SD_MEASURED = 0.13
SD_GUESSED = 0.30


def drying_piece(
    facts: PieceFacts,
    *,
    diameter_mm: float | None = None,
    wall_mm: float | None = None,
    height_mm: float | None = None,
    bottom_mm: float | None = None,
    brings: Brings | None = None,
) -> DryingPiece:
    """Return the engine's view of a roughed or finished green vessel.

    Parameters
    ----------
    facts : PieceFacts
        Wood, form and planned sizes.
    diameter_mm, wall_mm, height_mm, bottom_mm : float, optional
        As measured when drying began; planned figures where not given. [mm]
    brings : dict, optional
        What a part cut from a drying piece knows already: ``mc_pct`` with ``mc_sd_pct``,
        ``ln_k`` with ``ln_k_sd``, ``profile`` from the middle of the wall outwards.

    Returns
    -------
    piece : DryingPiece
        Oven-dry mass from volume and basic gravity, 13 % unsure when measured.

    Raises
    ------
    CoreError
        If the sizes leave no hollow.

    References
    ----------
    .. [pappus] volume; [wood-handbook] basic specific gravity.
    """
    wood = facts.wood
    diameter = diameter_mm or facts.diameter_mm
    wall = wall_mm or diameter / 10.0
    height = height_mm or facts.height_mm
    bottom = bottom_mm or min(1.25 * wall, 0.6 * height)
    try:
        volume = vessel(
            facts.form.family,
            diameter_mm=diameter,
            height_mm=height,
            wall_mm=wall,
            bottom_mm=bottom,
            foot_diameter_mm=foot_share(facts.form.family) * diameter,
        ).wood_cm3
    except CoreError as error:
        error.field = "wall_mm" if error.field == "wall_mm" else "bottom_mm"
        raise
    sure = diameter_mm is not None and wall_mm is not None
    known = brings or {}
    return DryingPiece(
        grain=facts.form.grain,
        wall_mm=wall,
        foot_mm=bottom,
        gb=wood.gb.typical,
        green_mc_pct=_brought(known) if "mc_pct" in known else _green(facts),
        dry_mass_g=oven_dry_mass_g(volume, gb=wood.gb.typical),
        shrink_tangential_pct=wood.shrink_tangential_pct.typical,
        dry_mass_sd=SD_MEASURED if sure and not wood.gb.from_class else SD_GUESSED,
        ln_k=float(known.get("ln_k", 0.0)),
        ln_k_sd=float(known.get("ln_k_sd", 0.5)),
        profile=tuple(known.get("profile", ())),
    )


def _brought(known: Brings) -> Known:
    mc, sd = float(known["mc_pct"]), float(known.get("mc_sd_pct", 3.0))
    return Known(max(mc - 1.28 * sd, 0.5 * mc), mc, mc + 1.28 * sd, False, "measured")


def _green(facts: PieceFacts) -> Known:
    if facts.mc_pct is not None:
        mc = facts.mc_pct
        return Known(0.85 * mc, mc, 1.15 * mc, False, "measured")
    if facts.state == "green":
        return facts.wood.green_mc_pct
    return (
        Known(18.0, 27.0, 40.0, True, "assumed")
        if facts.state == "part-dry"
        else Known(8.0, 11.0, 15.0, True, "assumed")
    )
