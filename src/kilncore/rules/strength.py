"""What screws hold by published figures; tenon, recess and glue only put in order."""

import math

from kilncore.errors import require_range

__all__ = [
    "glue_order_nm",
    "lag_screw_n",
    "pull_of_turn_n",
    "recess_order_nm",
    "specific_gravity_12",
    "tenon_order_nm",
    "wood_screw_n",
]

END_GRAIN_SHARE = 0.75
# Orders of magnitude for putting holds in a row, no design figures: clear wood at Gb 0.6.
ACROSS_MPA = 6.0
ALONG_MPA = 90.0
GLUE_MPA = 4.0


def specific_gravity_12(gb: float) -> float:
    """Return the specific gravity at 12 % moisture from the basic one.

    Parameters
    ----------
    gb : float
        Oven-dry mass over green volume.

    Returns
    -------
    g12 : float
        Oven-dry mass over volume at 12 %.

    References
    ----------
    .. [wood-handbook] ch. 4: Gb / (1 - 0.265 a Gb), a = (30 - 12)/30.
    """
    require_range("gb", gb, 0.1, 1.2)
    return gb / (1.0 - 0.265 * 0.6 * gb)


def wood_screw_n(gravity: float, *, diameter_mm: float, length_mm: float, end_grain: bool = False) -> float:
    """Return the average load that pulls a wood screw straight out.

    Parameters
    ----------
    gravity : float
        Specific gravity at 12 %.
    diameter_mm, length_mm : float
        Shank, and thread in the wood. [mm]
    end_grain : bool
        Three quarters of it along the grain.

    Returns
    -------
    load_n : float
        p = 108.25 G^2 D L. [N]

    References
    ----------
    .. [wood-handbook] ch. 8, screws; from memory.
    """
    require_range("diameter_mm", diameter_mm, 1.5, 12.0)
    require_range("length_mm", length_mm, 3.0, 150.0)
    load = 108.25 * gravity**2 * diameter_mm * length_mm
    return load * (END_GRAIN_SHARE if end_grain else 1.0)


def lag_screw_n(gravity: float, *, diameter_mm: float, length_mm: float, end_grain: bool = False) -> float:
    """Return the average load that pulls a lag screw, or one worm screw, straight out.

    Parameters
    ----------
    gravity : float
        Specific gravity at 12 %.
    diameter_mm, length_mm : float
        Shank, and thread in the wood. [mm]
    end_grain : bool
        Three quarters of it along the grain.

    Returns
    -------
    load_n : float
        p = 125.4 G^1.5 D^0.75 L. [N]

    References
    ----------
    .. [wood-handbook] ch. 8, lag screws; from memory.
    """
    require_range("diameter_mm", diameter_mm, 3.0, 30.0)
    require_range("length_mm", length_mm, 3.0, 150.0)
    load: float = 125.4 * gravity**1.5 * diameter_mm**0.75 * length_mm
    return load * (END_GRAIN_SHARE if end_grain else 1.0)


def pull_of_turn_n(one_n: float, *, count: int, circle_mm: float, plate_mm: float, arm_mm: float) -> float:
    """Return the push at the far end of the work at which the first of a ring of screws gives.

    Parameters
    ----------
    one_n : float
        What one screw holds. [N]
    count : int
        Screws evenly on a circle.
    circle_mm, plate_mm : float
        Diameter of the circle of screws, and of the plate it levers over. [mm]
    arm_mm : float
        How far out the push acts. [mm]

    Returns
    -------
    push_n : float
        The least over all directions. [N]

    References
    ----------
    .. [geometry] a stiff plate levering over its edge, loads in proportion to the distance from it.
    """
    require_range("arm_mm", arm_mm, 5.0, 2000.0)
    rc, rp = circle_mm / 2.0, plate_mm / 2.0
    worst = math.inf
    for step in range(90):
        turn = 2.0 * math.pi * step / 90 / count
        away = [max(rp + rc * math.cos(2.0 * math.pi * i / count + turn), 0.0) for i in range(count)]
        worst = min(worst, sum(d * d for d in away) / max(away))
    return float(one_n * worst / arm_mm)


def tenon_order_nm(diameter_mm: float, *, end_grain: bool, share: float = 1.0) -> float:
    """Return a bending moment that orders tenons, not one to load them with. [N m].

    Parameters
    ----------
    diameter_mm : float
        Root of the tenon. [mm]
    end_grain : bool
        Fibres running through the root; across it the wood tears an order of magnitude sooner.
    share : float
        Left in soft or wet wood.

    Returns
    -------
    moment_nm : float
        stress times pi d^3 / 32. [N m]

    References
    ----------
    .. [assumed] orders of magnitude of tension across and bending along the grain.
    """
    stress = ALONG_MPA if end_grain else ACROSS_MPA
    return share * stress * math.pi * diameter_mm**3 / 32.0 / 1000.0


def recess_order_nm(diameter_mm: float, *, ring_mm: float, depth_mm: float, share: float = 1.0) -> float:
    """Return a moment that orders recesses: their ring splits along the grain. [N m].

    Parameters
    ----------
    diameter_mm : float
        Of the recess. [mm]
    ring_mm, depth_mm : float
        Wood outside of it, and depth. [mm]
    share : float
        Left in soft or wet wood.

    Returns
    -------
    moment_nm : float
        Two sections of the ring in tension across the grain, on half the diameter. [N m]

    References
    ----------
    .. [assumed] orders of magnitude.
    """
    return share * ACROSS_MPA * 2.0 * ring_mm * depth_mm * diameter_mm / 2.0 / 1000.0


def glue_order_nm(diameter_mm: float, *, share: float = 1.0) -> float:
    """Return a moment that orders glue blocks: a disc of glue in tension. [N m].

    Parameters
    ----------
    diameter_mm : float
        Of the block. [mm]
    share : float
        Left on poor faces or in the cold.

    Returns
    -------
    moment_nm : float
        stress times pi d^3 / 32. [N m]

    References
    ----------
    .. [assumed] orders of magnitude.
    """
    return share * GLUE_MPA * math.pi * diameter_mm**3 / 32.0 / 1000.0
