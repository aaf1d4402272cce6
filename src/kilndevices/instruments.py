"""What an instrument gives, and stand-ins that give it without hardware.

Clock and chance come from outside: a stand-in is told what it measures and which
seed its noise has, so that the same call gives the same reading.
"""

import random
from dataclasses import dataclass
from typing import Protocol

__all__ = ["Air", "ClimateLogger", "Reading", "Scale", "SimulatedClimateLogger", "SimulatedScale"]


@dataclass(frozen=True, slots=True)
class Reading:
    """One weight off a scale: grams, whether it stood still, whether it was too heavy."""

    mass_g: float
    stable: bool
    overload: bool


@dataclass(frozen=True, slots=True)
class Air:
    """One reading of the air."""

    air_c: float
    rh_pct: float


class Scale(Protocol):
    """A bench scale."""

    def weigh(self, true_g: float) -> Reading:
        """Return what the display shows for a load."""
        ...


class ClimateLogger(Protocol):
    """A temperature and humidity logger."""

    def read(self, day: float) -> Air:
        """Return the air at a day of the year."""
        ...


class SimulatedScale:
    """A scale with a capacity, a division and a little noise."""

    def __init__(
        self, seed: int, *, division_g: float = 1.0, capacity_g: float = 15_000.0, noise_g: float = 1.0
    ) -> None:
        self._chance = random.Random(seed)
        self.division_g = division_g
        self.capacity_g = capacity_g
        self.noise_g = noise_g

    def weigh(self, true_g: float) -> Reading:
        """Return what the display shows for a load; overload shows the capacity."""
        if true_g > self.capacity_g:
            return Reading(self.capacity_g, stable=False, overload=True)
        shown = true_g + self._chance.gauss(0.0, self.noise_g)
        steps = round(shown / self.division_g)
        return Reading(max(0.0, steps * self.division_g), stable=True, overload=False)


class SimulatedClimateLogger:
    """A logger in a room that swings a little round its mean."""

    def __init__(self, seed: int, *, mean: Air, swing_c: float = 2.0, swing_rh_pct: float = 5.0) -> None:
        self._seed = seed
        self.mean = mean
        self.swing_c = swing_c
        self.swing_rh_pct = swing_rh_pct

    def read(self, day: float) -> Air:
        """Return the air at a day; the same day gives the same reading."""
        chance = random.Random(f"{self._seed}:{day:.3f}")
        c = self.mean.air_c + self.swing_c * chance.uniform(-1.0, 1.0)
        rh = self.mean.rh_pct + self.swing_rh_pct * chance.uniform(-1.0, 1.0)
        return Air(round(c, 1), round(min(max(rh, 1.0), 99.0), 1))
