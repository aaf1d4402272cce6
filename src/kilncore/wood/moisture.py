"""How mass, volume, density and moisture content belong together."""

from kilncore.errors import Impossible, require_range

__all__ = [
    "FSP_PCT",
    "density_kg_m3",
    "mass_g_at",
    "mc_pct_from_mass",
    "oven_dry_mass_g",
    "shrinkage_pct",
]

# Fibre saturation: wood shrinks only below it. The handbook works with 30 %.
FSP_PCT = 30.0


def mc_pct_from_mass(mass_g: float, *, dry_mass_g: float) -> float:
    """Return moisture content from a weight and the oven-dry mass.

    Parameters
    ----------
    mass_g : float
        Weight now. [g]
    dry_mass_g : float
        Mass without any water. [g]

    Returns
    -------
    mc_pct : float
        Water as a share of oven-dry mass. [%]

    Raises
    ------
    Impossible
        If the piece weighs less than its oven-dry mass.

    References
    ----------
    .. [wood-handbook] ch. 4, definition of moisture content.
    """
    require_range("dry_mass_g", dry_mass_g, 0.1, 1e6)
    if mass_g < dry_mass_g:
        raise Impossible(
            "lighter-than-dry",
            "mass_g",
            "{mass_g} is less than the wood alone would weigh without water ({dry_mass_g}).",
            {"mass_g": mass_g, "dry_mass_g": dry_mass_g},
        )
    return 100.0 * (mass_g - dry_mass_g) / dry_mass_g


def mass_g_at(mc_pct: float, *, dry_mass_g: float) -> float:
    """Return the weight of a piece at a moisture content.

    Parameters
    ----------
    mc_pct : float
        Moisture content. [%]
    dry_mass_g : float
        Mass without any water. [g]

    Returns
    -------
    mass_g : float
        Weight. [g]

    References
    ----------
    .. [wood-handbook] ch. 4, definition of moisture content.
    """
    require_range("mc_pct", mc_pct, 0.0, 400.0)
    require_range("dry_mass_g", dry_mass_g, 0.1, 1e6)
    return dry_mass_g * (1.0 + mc_pct / 100.0)


def oven_dry_mass_g(green_volume_cm3: float, *, gb: float) -> float:
    """Return oven-dry mass from the volume the wood had when green.

    Parameters
    ----------
    green_volume_cm3 : float
        Volume above fibre saturation. [cm3]
    gb : float
        Basic specific gravity, oven-dry mass over green volume.

    Returns
    -------
    dry_mass_g : float
        Mass without any water. [g]

    References
    ----------
    .. [wood-handbook] ch. 4, basic specific gravity.
    """
    require_range("green_volume_cm3", green_volume_cm3, 0.0, 1e6)
    require_range("gb", gb, 0.08, 1.4)
    return green_volume_cm3 * gb


def density_kg_m3(gb: float, *, mc_pct: float) -> float:
    """Return the density of wood at a moisture content.

    Parameters
    ----------
    gb : float
        Basic specific gravity, oven-dry mass over green volume.
    mc_pct : float
        Moisture content. [%]

    Returns
    -------
    density_kg_m3 : float
        Mass over volume, both at that moisture. [kg/m3]

    References
    ----------
    .. [wood-handbook] ch. 4, eqs. 4-9 to 4-12: Gm = Gb / (1 - 0.265 a Gb).
    """
    require_range("gb", gb, 0.08, 1.4)
    require_range("mc_pct", mc_pct, 0.0, 400.0)
    a = max(FSP_PCT - mc_pct, 0.0) / FSP_PCT
    gm = gb / (1.0 - 0.265 * a * gb)
    return 1000.0 * gm * (1.0 + mc_pct / 100.0)


def shrinkage_pct(total_pct: float, *, mc_pct: float) -> float:
    """Return the shrinkage from green down to a moisture content.

    Parameters
    ----------
    total_pct : float
        Shrinkage from green to oven-dry in that direction. [%]
    mc_pct : float
        Moisture content reached. [%]

    Returns
    -------
    shrinkage_pct : float
        Share of the green dimension lost; none above fibre saturation. [%]

    References
    ----------
    .. [wood-handbook] ch. 4, eq. 4-7.
    """
    require_range("total_pct", total_pct, 0.0, 25.0)
    require_range("mc_pct", mc_pct, 0.0, 400.0)
    return total_pct * max(FSP_PCT - mc_pct, 0.0) / FSP_PCT
