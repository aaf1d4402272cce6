"""What a log's ends and length leave to cut from, at any place along it."""

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from kilncore.errors import Impossible, require_range

__all__ = ["LogShape", "Section"]

Array = NDArray[np.float64]
Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Section:
    """One cross-section under bark: an ellipse about the log's middle, the pith somewhere in it.

    ``a_mm`` is half the width (x), ``b_mm`` half the height (y); ``pith`` in mm from the middle.
    """

    a_mm: float
    b_mm: float
    pith: Point = (0.0, 0.0)

    def chord(self, angle_deg: float, t_mm: float) -> tuple[float, float] | None:
        """Return where a line across the section meets its edge, None where it misses.

        Parameters
        ----------
        angle_deg : float
            Direction the line's distance is counted in, from x towards y. [deg]
        t_mm : float
            Distance of the line from the middle. [mm]

        Returns
        -------
        ends : (float, float) or None
            Positions along the line (left turn of the direction), ascending, in mm.
        """
        found = self.chords(angle_deg, np.array([t_mm]))
        return None if found is None else (float(found[0][0]), float(found[1][0]))

    def chords(self, angle_deg: float, t_mm: Array) -> tuple[Array, Array] | None:
        """Return ``chord`` for many distances at once, None where any of them misses. [mm]."""
        c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
        a2, b2 = self.a_mm**2, self.b_mm**2
        # (t c - x s)^2 / a2 + (t s + x c)^2 / b2 = 1, solved for x
        p = s * s / a2 + c * c / b2
        q = t_mm * s * c * (1.0 / b2 - 1.0 / a2)
        root = q * q - p * (t_mm * t_mm * (c * c / a2 + s * s / b2) - 1.0)
        if root.min() <= 0.0:
            return None
        half = np.sqrt(root) / p
        return -q / p - half, -q / p + half

    def reach(self, angle_deg: float) -> float:
        """Return how far the section goes in a direction (its support). [mm]."""
        c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
        return math.hypot(self.a_mm * c, self.b_mm * s)

    def edge(self, angle_deg: float, x_mm: float) -> float:
        """Return the greatest t at a position along the line, 0 outside of the section. [mm]."""
        across = self.chord(angle_deg + 90.0, x_mm)  # positions on it run towards the middle
        return -across[0] if across else 0.0

    def pith_t(self, angle_deg: float) -> float:
        """Return the pith's distance from the middle in a direction. [mm]."""
        c, s = math.cos(math.radians(angle_deg)), math.sin(math.radians(angle_deg))
        return self.pith[0] * c + self.pith[1] * s

    @property
    def area_mm2(self) -> float:
        """Wood under bark. [mm2]."""
        return math.pi * self.a_mm * self.b_mm

    def points(self, count: int = 72) -> list[Point]:
        """Return the edge as points."""
        turns = [2.0 * math.pi * i / count for i in range(count)]
        return [(self.a_mm * math.cos(w), self.b_mm * math.sin(w)) for w in turns]


@dataclass(frozen=True, slots=True)
class LogShape:
    """A log between its ends. Widths and heights are measured over the bark.

    ``trim_start_mm`` and ``trim_end_mm``: checked ends that are cut away first.
    Places along it count from the large end.
    """

    length_mm: float
    large_mm: Point
    small_mm: Point
    bark_mm: float = 0.0
    pith_large: Point = (0.0, 0.0)
    pith_small: Point = (0.0, 0.0)
    trim_start_mm: float = 30.0
    trim_end_mm: float = 30.0
    faults: tuple[str, ...] = field(default=())

    def __post_init__(self) -> None:
        require_range("length_mm", self.length_mm, 50.0, 12_000.0)
        for value in (*self.large_mm, *self.small_mm):
            require_range("diameter_mm", value, 30.0, 2500.0)
        require_range("bark_mm", self.bark_mm, 0.0, min(80.0, 0.2 * min(self.small_mm)))
        for pith, across in ((self.pith_large, self.large_mm), (self.pith_small, self.small_mm)):
            if (2 * pith[0] / across[0]) ** 2 + (2 * pith[1] / across[1]) ** 2 >= 1.0:
                raise Impossible(
                    "pith-outside",
                    "pith_offset_mm",
                    "The pith cannot lie {offset_mm} off the middle of a log {diameter_mm} across.",
                    {"offset_mm": math.hypot(*pith), "diameter_mm": min(across)},
                )
        if self.usable_mm <= 0.0:
            raise Impossible(
                "all-trim",
                "length_mm",
                "Trimming {trim_mm} off leaves nothing of {length_mm}.",
                {"trim_mm": self.trim_start_mm + self.trim_end_mm, "length_mm": self.length_mm},
            )

    @property
    def usable_mm(self) -> float:
        """Length between the trims. [mm]."""
        return self.length_mm - self.trim_start_mm - self.trim_end_mm

    def at(self, along_mm: float) -> Section:
        """Return the cross-section under bark at a place, straight between the ends."""
        share = min(max(along_mm / self.length_mm, 0.0), 1.0)

        def mix(large: float, small: float) -> float:
            return large + (small - large) * share

        return Section(
            mix(self.large_mm[0], self.small_mm[0]) / 2.0 - self.bark_mm,
            mix(self.large_mm[1], self.small_mm[1]) / 2.0 - self.bark_mm,
            (mix(self.pith_large[0], self.pith_small[0]), mix(self.pith_large[1], self.pith_small[1])),
        )

    def smaller_of(self, start_mm: float, end_mm: float) -> Section:
        """Return the section that everything between two places must fit in.

        Parameters
        ----------
        start_mm, end_mm : float
            Places along the log. [mm]

        Returns
        -------
        section : Section
            Least width and height of both; the pith as it runs in the middle.
        """
        one, two, middle = self.at(start_mm), self.at(end_mm), self.at((start_mm + end_mm) / 2.0)
        return Section(min(one.a_mm, two.a_mm), min(one.b_mm, two.b_mm), middle.pith)

    @property
    def wood_cm3(self) -> float:
        """Wood under bark. [cm3]."""
        one, mid, two = (self.at(x).area_mm2 for x in (0.0, self.length_mm / 2.0, self.length_mm))
        return self.length_mm * (one + 4.0 * mid + two) / 6.0 / 1000.0
