"""Does one turned piece go into another: where a bowl seats in its shell, and the clearance by height."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import Impossible, require_range
from kilncore.said import Sentence, say
from kilncore.solids.curve import Path, distances, resampled

__all__ = ["Fit", "fit_over"]

Floats = NDArray[np.float64]

STEP_MM = 0.5


@dataclass(frozen=True, slots=True)
class Fit:
    """How a piece slides down into a shell.

    ``seat_mm``: height of the inner piece's zero above the shell's where it stops. ``gaps`` are
    (height in the shell, clearance) there; ``touches`` is the narrowest place, (r, z) in the shell.
    """

    seat_mm: float
    reached: bool
    touches: tuple[float, float]
    gaps: tuple[tuple[float, float], ...]
    least_mm: float
    words: Sentence


def fit_over(shell: Path, inner: Path, *, wanted_mm: float = 0.0) -> Fit:
    """Return where a piece comes to rest in a shell, let down along the axis.

    Parameters
    ----------
    shell : tuple of (float, float)
        Inside of the shell in its own heights, mm; open below where its first radius is above nought.
    inner : tuple of (float, float)
        Outside of the piece that goes in, mm.
    wanted_mm : float
        Where it should end up: its zero above the shell's. [mm]

    Returns
    -------
    fit : Fit
        Seats at the first touch on the way down, or at the wanted height.

    Raises
    ------
    Impossible
        If the piece does not even enter the shell.

    References
    ----------
    .. [geometry] level comparison of radii at every height while sliding.
    """
    require_range("wanted_mm", wanted_mm, -500.0, 500.0)
    out, hole = np.array(resampled(inner, 160)), np.array(resampled(shell, 160))
    start = float(hole[:, 1].max() - out[:, 1].min()) + 1.0
    seat, reached = start, False
    for offset in [*np.arange(start, wanted_mm, -STEP_MM), wanted_mm]:
        if _least(hole, out, float(offset)) < 0.0:
            break
        seat = float(offset)
    else:
        reached = True
    if not reached:
        seat = _touching(hole, out, seat, max(seat - STEP_MM, wanted_mm))
    if seat >= start - STEP_MM - 1.0:
        raise Impossible(
            "does-not-start",
            "shell",
            "The piece ({piece_mm} at its foot) does not enter the shell's mouth ({hole_mm}).",
            {"hole_mm": 2.0 * float(hole[-1, 0]), "piece_mm": 2.0 * float(out[0:3, 0].max())},
        )
    moved = out + np.array([0.0, seat])
    covered = (
        (moved[:, 1] >= hole[:, 1].min()) & (moved[:, 1] <= hole[:, 1].max()) & (moved[:, 1] > seat + 1e-6)
    )
    gap = distances(moved[covered], hole)[0].min(axis=1)
    i = int(gap.argmin())
    spot = moved[covered][i]
    rows = tuple((float(z), float(g)) for (_, z), g in zip(moved[covered][::8], gap[::8], strict=True))
    words = (
        say("fits", "It slides home; the least clearance is {least_mm}, {at_mm} up.", least_mm=float(gap[i]), at_mm=float(spot[1]))
        if reached
        else say("seats-early", "It stops {short_mm} above where you want it, touching {at_mm} up, {across_mm} across.",
                 short_mm=seat - wanted_mm, at_mm=float(spot[1]), across_mm=2.0 * float(spot[0]))
    )  # fmt: skip
    return Fit(seat, reached, (float(spot[0]), float(spot[1])), rows, float(gap[i]), words)


def _least(hole: Floats, out: Floats, offset: float) -> float:
    """Least level clearance while the piece stands ``offset`` up; no overlap in height is clear."""
    z = out[:, 1] + offset
    low, high = max(z.min(), hole[:, 1].min()), min(z.max(), hole[:, 1].max())
    if z.min() < hole[0, 1] and hole[0, 0] <= 0.01:
        return float(z.min() - hole[0, 1])  # it would go through the shell's own bottom
    if low >= high:
        return 1.0
    at = np.linspace(low, high, 120)
    widest = np.interp(at, np.maximum.accumulate(z), out[:, 0])
    return float((np.interp(at, np.maximum.accumulate(hole[:, 1]), hole[:, 0]) - widest).min())


def _touching(hole: Floats, out: Floats, clear: float, blocked: float) -> float:
    for _ in range(24):
        middle = 0.5 * (clear + blocked)
        if _least(hole, out, middle) < 0.0:
            blocked = middle
        else:
            clear = middle
    return clear
