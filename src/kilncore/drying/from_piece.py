"""What the engine is told about a piece, from its sizes and species."""

from kilncore.drying.model import DryingPiece
from kilncore.errors import CoreError
from kilncore.route.facts import PieceFacts
from kilncore.solids.revolve import vessel
from kilncore.wood.moisture import oven_dry_mass_g
from kilncore.wood.species import Known

__all__ = ["drying_piece"]

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
) -> DryingPiece:
    """Return the engine's view of a roughed or finished green vessel.

    Parameters
    ----------
    facts : PieceFacts
        Wood, form and planned sizes.
    diameter_mm, wall_mm, height_mm, bottom_mm : float, optional
        As measured when drying began; planned figures where not given. [mm]

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
        ).wood_cm3
    except CoreError as error:
        error.field = "wall_mm" if error.field == "wall_mm" else "bottom_mm"
        raise
    sure = diameter_mm is not None and wall_mm is not None
    return DryingPiece(
        grain=facts.form.grain,
        wall_mm=wall,
        foot_mm=bottom,
        gb=wood.gb.typical,
        green_mc_pct=_green(facts),
        dry_mass_g=oven_dry_mass_g(volume, gb=wood.gb.typical),
        shrink_tangential_pct=wood.shrink_tangential_pct.typical,
        dry_mass_sd=SD_MEASURED if sure and not wood.gb.from_class else SD_GUESSED,
    )


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
