"""What a pin meter's figure means for another wood and another temperature."""

from kilncore.errors import require_range

__all__ = ["METER_C", "corrected_pct"]

# Pin meters are set for 20 °C; they read high in warm wood and low in cold.
METER_C = 20.0
SHARE_PER_C = 0.008


def corrected_pct(shown_pct: float, *, wood_c: float = METER_C, wood_adds_pct: float = 0.0) -> float:
    """Return moisture from what a pin meter shows.

    Parameters
    ----------
    shown_pct : float
        As shown. [%]
    wood_c : float
        Temperature of the wood. [°C]
    wood_adds_pct : float
        What the meter's own sheet adds for this wood; 0 where it has none or is set to it. [%]

    Returns
    -------
    mc_pct : float
        Never below 1. [%]

    Raises
    ------
    OutOfRange
        For a figure no meter shows.

    References
    ----------
    .. [assumed] about 0.8 % of the reading a degree, from memory; the meter's own sheet governs.
    """
    require_range("shown_pct", shown_pct, 1.0, 120.0, "Pin meters show about 6 to 60 %.")
    require_range("wood_c", wood_c, -10.0, 60.0)
    require_range("wood_adds_pct", wood_adds_pct, -15.0, 15.0)
    return max(1.0, shown_pct * (1.0 - SHARE_PER_C * (wood_c - METER_C)) + wood_adds_pct)
