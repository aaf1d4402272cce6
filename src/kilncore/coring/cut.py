"""One cut of a curved knife: where its kerf runs, what it leaves, what is wrong with it."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import Impossible, require_range
from kilncore.said import Sentence, say
from kilncore.solids.curve import Path

__all__ = ["CoreCut", "Kerf", "Knife", "arc_path", "kerf_of"]

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Knife:
    """A curved knife: middle radius of its arc, kerf, how far along the arc it reaches, clearance. [mm].

    ``clear_mm`` is the least its pivot stands off the wood's face.
    """

    key: str
    name: str
    radius_mm: float
    kerf_mm: float
    reach_mm: float
    clear_mm: float = 20.0

    def __post_init__(self) -> None:
        require_range("radius_mm", self.radius_mm, 30.0, 500.0)
        require_range("kerf_mm", self.kerf_mm, 2.0, 25.0)
        require_range("reach_mm", self.reach_mm, 20.0, 1500.0)
        require_range("clear_mm", self.clear_mm, 0.0, 200.0)
        if self.reach_mm > math.pi * self.radius_mm:
            raise Impossible(
                "reach-past-circle",
                "reach_mm",
                "A knife of {radius_mm} cannot reach {reach_mm} along its arc; half its circle is {most_mm}.",
                {
                    "radius_mm": self.radius_mm,
                    "reach_mm": self.reach_mm,
                    "most_mm": math.pi * self.radius_mm,
                },
            )


@dataclass(frozen=True, slots=True)
class CoreCut:
    """A knife with its pivot ``gap_mm`` in front of the face and ``off_mm`` beside the axis."""

    knife: Knife
    gap_mm: float
    off_mm: float = 0.0


@dataclass(frozen=True, slots=True)
class Kerf:
    """Where a cut runs. Depths are from the face; ``core`` is its inner side, ``bowl`` its outer. [mm]."""

    entry_mm: float
    depth_mm: float
    swept_mm: float
    core_radius_mm: float
    bowl_radius_mm: float
    core_entry_mm: float
    bowl_entry_mm: float
    core_depth_mm: float
    bowl_depth_mm: float
    refused: tuple[Sentence, ...]


def kerf_of(cut: CoreCut) -> Kerf:
    """Return where a cut enters the face and crosses the axis, and all that is wrong with it by itself.

    Parameters
    ----------
    cut : CoreCut
        Knife and pivot.

    Returns
    -------
    kerf : Kerf
        Nought in sizes that do not exist; every reason against it.

    References
    ----------
    .. [geometry] r = c + sqrt(rho^2 - g^2), depth = sqrt(rho^2 - c^2) - g, arc = rho [acos(g/rho) + asin(c/rho)].
    """
    rho, k, g, c = cut.knife.radius_mm, cut.knife.kerf_mm, cut.gap_mm, cut.off_mm
    refused = []
    if g < 0.0:
        refused.append(
            say("locked-in", "With the pivot inside the wood the core is wider below than at the face.")
        )
    elif g < cut.knife.clear_mm:
        text = "The pivot stands {gap_mm} off the face; this knife wants {clear_mm}."
        refused.append(say("pivot-too-near", text, gap_mm=g, clear_mm=cut.knife.clear_mm))
    if c < 0.0:
        refused.append(say("leaves-cone", "The pivot lies past the axis: a cone is left standing uncut."))
    inner, outer = rho - k / 2.0, rho + k / 2.0
    if not (abs(g) < inner and abs(c) < inner):
        refused.append(say("no-arc", "From there the knife does not meet the wood."))
        return Kerf(0.0, 0.0, 0.0, inner, outer, 0.0, 0.0, 0.0, 0.0, tuple(refused))
    swept = rho * (math.acos(g / rho) + math.asin(c / rho))
    if swept > cut.knife.reach_mm:
        text = "It would have to sweep {swept_mm} along its arc and reaches {reach_mm}."
        refused.append(say("out-of-reach", text, swept_mm=swept, reach_mm=cut.knife.reach_mm))
    depth = math.sqrt(rho**2 - c**2) - g
    if depth <= 0.0:
        refused.append(say("no-depth", "It does not come down to the axis."))
    return Kerf(
        entry_mm=c + math.sqrt(rho**2 - g**2),
        depth_mm=depth,
        swept_mm=swept,
        core_radius_mm=inner,
        bowl_radius_mm=outer,
        core_entry_mm=c + math.sqrt(inner**2 - g**2),
        bowl_entry_mm=c + math.sqrt(outer**2 - g**2),
        core_depth_mm=math.sqrt(inner**2 - c**2) - g,
        bowl_depth_mm=(outer if c > 0 else math.sqrt(outer**2 - c**2)) - g,
        refused=tuple(refused),
    )


def arc_path(cut: CoreCut, radius_mm: float, *, face_mm: float, points: int = 33) -> Path:
    """Return one side of a kerf from the axis to the face, in the blank's heights. [mm].

    Parameters
    ----------
    cut : CoreCut
        Knife and pivot.
    radius_mm : float
        Of that side. [mm]
    face_mm : float
        Height of the face. [mm]
    points : int
        Points along it.

    Returns
    -------
    path : tuple of (float, float)
        Radius and height, axis first.
    """
    g, c = cut.gap_mm, cut.off_mm
    start, end = math.asin(max(-1.0, min(1.0, -c / radius_mm))), math.acos(max(-1.0, min(1.0, g / radius_mm)))
    at = np.linspace(start, end, points)
    r, z = c + radius_mm * np.sin(at), face_mm + g - radius_mm * np.cos(at)
    return tuple((max(float(a), 0.0), float(b)) for a, b in zip(r, z, strict=True))
