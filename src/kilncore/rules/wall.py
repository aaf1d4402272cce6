"""How thick to leave a rough-out, where its rim will go, and what is left in it once dry."""

import math
from dataclasses import dataclass

from kilncore.errors import Impossible, require_range
from kilncore.rules.rulebook import Rule
from kilncore.said import Sentence, say
from kilncore.wood.moisture import shrinkage_pct
from kilncore.wood.species import Species

__all__ = [
    "LENGTHWISE_PCT",
    "ROUGH_WALL",
    "Inside",
    "Strains",
    "bowl_inside",
    "clean_up_mm",
    "rough_diameter_mm",
    "rough_wall_mm",
    "strains",
]

# Green to oven-dry along the grain; the handbook gives 0.1 to 0.2 % for normal wood.
LENGTHWISE_PCT = 0.15

ROUGH_WALL = Rule("rough-wall", "How thick a wall does a rough-out need?")


@dataclass(frozen=True, slots=True)
class Strains:
    """Shrinkage from green to the wanted moisture, % of the green size."""

    across_pct: float
    along_pct: float
    sides_shift_mm: float
    from_class: bool


def strains(wood: Species, *, radius_mm: float, mc_pct: float, pith_mm: float | None = None) -> Strains:
    """Return how a ring of wood shrinks across and along the grain.

    Parameters
    ----------
    wood : Species
        Its radial and tangential shrinkage.
    radius_mm : float
        Outside radius of the piece. [mm]
    mc_pct : float
        Moisture it will reach. [%]
    pith_mm : float, optional
        Plane of the rim to the pith; unknown counts as far, the worst for width. [mm]

    Returns
    -------
    strains : Strains
        Across, along, and how far the sides move away from the pith side.

    References
    ----------
    .. [geometry] er + (et - er) theta / tan theta with theta = atan2(R, p).
    .. [wood-handbook] ch. 4 for the shrinkage figures.
    """
    require_range("radius_mm", radius_mm, 5.0, 800.0)
    er = shrinkage_pct(wood.shrink_radial_pct.typical, mc_pct=mc_pct)
    et = shrinkage_pct(wood.shrink_tangential_pct.typical, mc_pct=mc_pct)
    theta = math.atan2(radius_mm, radius_mm if pith_mm is None else max(pith_mm, 0.0))
    share = 1.0 if pith_mm is None or theta < 1e-6 else theta / math.tan(theta)
    return Strains(
        across_pct=er + (et - er) * share,
        along_pct=shrinkage_pct(LENGTHWISE_PCT, mc_pct=mc_pct),
        sides_shift_mm=(et - er) / 100.0 * radius_mm * theta,
        from_class=wood.shrink_tangential_pct.from_class,
    )


def clean_up_mm(diameter_mm: float, *, wild: bool) -> float:
    """Return what truing takes off each face.

    Parameters
    ----------
    diameter_mm : float
        Finished diameter. [mm]
    wild : bool
        Woods known to move and check badly get half as much again.

    Returns
    -------
    clean_up_mm : float
        1.5 mm plus half a percent of the diameter. [mm]

    References
    ----------
    .. [assumed] house figure.
    """
    require_range("diameter_mm", diameter_mm, 30.0, 1200.0)
    base = 1.5 + 0.005 * diameter_mm
    return 1.5 * base if wild else base


def rough_diameter_mm(finish_mm: float, *, clean_mm: float, across_pct: float) -> float:
    """Return the green diameter that still holds the finished one once dry.

    Parameters
    ----------
    finish_mm : float
        Finished outside diameter. [mm]
    clean_mm : float
        Clean-up a face. [mm]
    across_pct : float
        Shrinkage across the grain. [%]

    Returns
    -------
    diameter_mm : float
        2 (Df/2 + c) / (1 - ea). [mm]

    References
    ----------
    .. [geometry] small strains on a centred ring.
    """
    require_range("across_pct", across_pct, 0.0, 25.0)
    return 2.0 * (finish_mm / 2.0 + clean_mm) / (1.0 - across_pct / 100.0)


@ROUGH_WALL.school("computed", label="From shrinkage and clean-up", source_key="geometry")
def rough_wall_mm(
    *,
    finish_mm: float,
    finish_wall_mm: float,
    clean_mm: float,
    across_pct: float,
    along_pct: float,
    **_: float,
) -> tuple[float, Sentence]:
    """Return the even green wall in which the finished bowl still lies once oval.

    Parameters
    ----------
    finish_mm, finish_wall_mm, clean_mm : float
        Finished diameter and wall, clean-up a face. [mm]
    across_pct, along_pct : float
        Shrinkage in both directions. [%]

    Returns
    -------
    wall_mm, why : float, Sentence
        [t + 2c + R (ea - el)] / (1 - el). [mm]

    Raises
    ------
    Impossible
        If the finished wall does not fit in the finished bowl.

    References
    ----------
    .. [geometry] the oval's long and short half-axes must both hold the ring.
    """
    if 2.0 * finish_wall_mm >= finish_mm:
        raise Impossible(
            "wall-thicker-than-bowl",
            "finish_wall_mm",
            "Two walls of {finish_wall_mm} do not fit in a bowl {finish_mm} across.",
            {"finish_wall_mm": finish_wall_mm, "finish_mm": finish_mm},
        )
    radius = rough_diameter_mm(finish_mm, clean_mm=clean_mm, across_pct=across_pct) / 2.0
    difference = radius * (across_pct - along_pct) / 100.0
    wall = (finish_wall_mm + 2.0 * clean_mm + difference) / (1.0 - along_pct / 100.0)
    return wall, say(
        "computed",
        "{finish_wall_mm} to keep, {clean_mm} to clean off each face, and {oval_mm} because the "
        "ring shrinks {across_pct} across the grain and hardly along it.",
        finish_wall_mm=finish_wall_mm,
        clean_mm=clean_mm,
        oval_mm=difference,
        across_pct=across_pct,
    )


@ROUGH_WALL.school("tenth", label="A tenth of the diameter", source_key="common-practice")
def _tenth(*, rough_mm: float, **_: float) -> tuple[float, Sentence]:
    return rough_mm / 10.0, say(
        "tenth",
        "A tenth of {rough_mm}. Ample for big bowls, short for small or wild ones.",
        rough_mm=rough_mm,
    )


@dataclass(frozen=True, slots=True)
class Inside:
    """The round bowl still lying in a dried oval, and the oval it was read from. [mm]."""

    diameter_mm: float
    wall_mm: float
    oval_mm: float
    clean_mm: float
    long_mm: float = 0.0
    short_mm: float = 0.0
    wall_long_mm: float = 0.0
    wall_short_mm: float = 0.0


def bowl_inside(
    long_mm: float, *, short_mm: float, wall_long_mm: float, wall_short_mm: float, clean_mm: float
) -> Inside:
    """Return the largest true ring in an oval rough-out.

    Parameters
    ----------
    long_mm, short_mm : float
        Outside diameters, longest and shortest. [mm]
    wall_long_mm, wall_short_mm : float
        Wall at the ends of each. [mm]
    clean_mm : float
        Clean-up a face. [mm]

    Returns
    -------
    inside : Inside
        Diameter Dmin - 2c and the wall left.

    Raises
    ------
    Impossible
        If the diameters are swapped, a wall does not fit, or nothing is left.

    References
    ----------
    .. [geometry] D = Dmin - 2c;
       wall = (Dmin/2 - c) - max(Dmax/2 - t_long, Dmin/2 - t_short) - c.
    """
    for name, value in (("long_mm", long_mm), ("short_mm", short_mm)):
        require_range(name, value, 20.0, 1500.0)
    if short_mm > long_mm:
        raise Impossible(
            "diameters-swapped",
            "short_mm",
            "The short diameter ({short_mm}) is longer than the long one ({long_mm}). Swap them?",
            {"short_mm": short_mm, "long_mm": long_mm},
        )
    for name, wall, across in (
        ("wall_long_mm", wall_long_mm, long_mm),
        ("wall_short_mm", wall_short_mm, short_mm),
    ):
        if not 0.5 <= wall < across / 2.0:
            raise Impossible(
                "wall-thicker-than-bowl",
                name,
                "A wall of {wall_mm} does not fit in {across_mm}; it must be less than half of it.",
                {"wall_mm": wall, "across_mm": across},
            )
    hollow = max(long_mm / 2.0 - wall_long_mm, short_mm / 2.0 - wall_short_mm)
    wall = (short_mm / 2.0 - clean_mm) - hollow - clean_mm
    if wall <= 0.0:
        raise Impossible(
            "nothing-left",
            "wall_short_mm",
            "No round bowl is left in it: truing {clean_mm} a face goes through by {short_by_mm}. "
            "Leave it oval, cut the rim down, or take less off.",
            {"clean_mm": clean_mm, "short_by_mm": -wall},
        )
    return Inside(
        short_mm - 2.0 * clean_mm,
        wall,
        long_mm - short_mm,
        clean_mm,
        long_mm,
        short_mm,
        wall_long_mm,
        wall_short_mm,
    )
