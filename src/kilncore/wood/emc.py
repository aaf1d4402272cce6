"""At which moisture does wood settle in given air, and which air holds a moisture."""

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import OutOfRange, require_range

__all__ = ["AIR_C_RANGE", "Isotherm", "emc_pct", "rh_pct_from_emc"]

# The handbook tabulates -1.1 to 132 °C; ordinary rooms, sheds and warm boxes lie inside.
AIR_C_RANGE = (-15.0, 100.0)

Array = NDArray[np.float64]


class Isotherm:
    """The sorption curve at one temperature, or one for each of an array.

    Coefficients depend on temperature alone, so a solver makes one of these a
    treatment and asks it often.
    """

    def __init__(self, air_c: float | Array) -> None:
        t = np.asarray(air_c, dtype=float)
        self.w = 349.0 + 1.29 * t + 0.0135 * t**2
        self.k = 0.805 + 0.000736 * t - 0.00000273 * t**2
        self.k1 = 6.27 - 0.00938 * t - 0.000303 * t**2
        self.k2 = 1.91 + 0.0407 * t - 0.000293 * t**2

    def moisture(self, h: float | Array) -> Array:
        """Return moisture as kg/kg at relative humidity ``h`` (0 to 1)."""
        x = self.k * np.asarray(h, dtype=float)
        a = self.k1 * x
        b = self.k1 * self.k2 * x * x
        return np.asarray(18.0 / self.w * (x / (1.0 - x) + (a + 2.0 * b) / (1.0 + a + b)))


def emc_pct(air_c: float, *, rh_pct: float) -> float:
    """Return the moisture content wood settles at in steady air.

    Parameters
    ----------
    air_c : float
        Dry-bulb temperature. [°C]
    rh_pct : float
        Relative humidity. [%]

    Returns
    -------
    emc_pct : float
        Water as a share of oven-dry mass. [%]

    Raises
    ------
    OutOfRange
        Outside the range the source fitted.

    References
    ----------
    .. [wood-handbook] ch. 4, eq. 4-5.
    """
    require_range("air_c", air_c, *AIR_C_RANGE)
    require_range("rh_pct", rh_pct, 0.0, 100.0, "Air cannot hold more than 100 %.")
    return float(100.0 * Isotherm(air_c).moisture(rh_pct / 100.0))


def rh_pct_from_emc(air_c: float, *, wanted_pct: float) -> float:
    """Return the relative humidity that holds wood at a wanted moisture.

    Parameters
    ----------
    air_c : float
        Dry-bulb temperature. [°C]
    wanted_pct : float
        Moisture content to hold. [%]

    Returns
    -------
    rh_pct : float
        Relative humidity. [%]

    Raises
    ------
    OutOfRange
        If no humidity holds that moisture at that temperature.

    References
    ----------
    .. [wood-handbook] ch. 4, eq. 4-5, inverted by bisection.
    """
    top = emc_pct(air_c, rh_pct=100.0)
    if not 0.0 <= wanted_pct <= top:
        raise OutOfRange("wanted_pct", wanted_pct, 0.0, top, "No air holds wood wetter than that.")
    low, high = 0.0, 100.0
    for _ in range(60):
        middle = (low + high) / 2.0
        if emc_pct(air_c, rh_pct=middle) < wanted_pct:
            low = middle
        else:
            high = middle
    return (low + high) / 2.0
