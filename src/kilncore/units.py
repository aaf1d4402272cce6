"""Which units exist in the core, and the exact factors between them and the workshop's.

Every number in the core, the database and the API carries one of these suffixes
in its name; conversion happens only at the edge.
"""

import math

__all__ = [
    "GRAMS_PER_OUNCE",
    "GRAMS_PER_POUND",
    "MM_PER_INCH",
    "SUFFIXES",
    "inches_from_mm",
    "suffix_of",
]

# Exact by definition (international inch and avoirdupois pound, 1959).
MM_PER_INCH = 25.4
GRAMS_PER_POUND = 453.59237
GRAMS_PER_OUNCE = GRAMS_PER_POUND / 16.0

SUFFIXES: dict[str, str] = {
    "_kg_m3": "kg/m3",
    "_per_week_pct": "%/week",
    "_mm": "mm",
    "_cm3": "cm3",
    "_kg": "kg",
    "_g": "g",
    "_c": "°C",
    "_pct": "%",
    "_s_m": "s/m",
    "_m_s": "m/s",
    "_days": "d",
    "_hours": "h",
    "_min": "min",
    "_rpm": "rpm",
    "_ml": "ml",
    "_um": "µm",
    "_cm2": "cm2",
    "_n": "N",
    "_w": "W",
    "_nm": "N m",
    "_deg": "deg",
}


def suffix_of(name: str) -> str | None:
    """Return the unit suffix a name ends in, longest first, or None.

    Parameters
    ----------
    name : str
        A field or parameter name.

    Returns
    -------
    suffix : str or None
        One of ``SUFFIXES``.
    """
    for suffix in sorted(SUFFIXES, key=len, reverse=True):
        if name.endswith(suffix):
            return suffix
    return None


def inches_from_mm(length_mm: float) -> float:
    """Return a length in inches.

    Parameters
    ----------
    length_mm : float
        Length. [mm]

    Returns
    -------
    inches : float
        Length, for rules the trade states in inches.
    """
    if not math.isfinite(length_mm):
        raise ValueError(f"length_mm must be a finite number. Got {length_mm!r}.")
    return length_mm / MM_PER_INCH
