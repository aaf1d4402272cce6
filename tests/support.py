"""Shared by the tests: reference tables, a usual bench, usual pieces."""

import csv
from pathlib import Path
from typing import Any

from kilncore.bench import Bench, HoldingPlate, JawSet, Lathe, WormScrew
from kilncore.drying.model import DryingPiece, Treatment
from kilncore.route.facts import PieceFacts
from kilncore.wood.species import Known, species

REFERENCE = Path(__file__).parent / "core" / "reference"


def reference(name: str) -> list[dict[str, str]]:
    """Rows of a reference table, its source lines left out."""
    lines = [line for line in (REFERENCE / name).read_text().splitlines() if not line.startswith("#")]
    return list(csv.DictReader(lines))


def a_lathe(**change: Any) -> Lathe:
    """A lathe of 400 mm swing on a dial."""
    values = {"name": "Test bed", "swing_mm": 400.0, "min_rpm": 50.0, "max_rpm": 2500.0, "mass_kg": 180.0}
    return Lathe(**{**values, **change})


def a_bench(**change: Any) -> Bench:
    """A bench with three jaw sets, a worm screw, a faceplate and expanding jaws."""
    values: dict[str, Any] = {
        "lathe": a_lathe(),
        "jaws": (
            JawSet("47 mm", 38, 56, 44, 70, 16),
            JawSet("72 mm", 60, 85, 66, 95, 18),
            JawSet("101 mm", 88, 115, 96, 125, 20),
        ),
        "worm": WormScrew(),
        "plates": (
            HoldingPlate("80 mm", "faceplate", 80, 400),
            HoldingPlate("buttons", "expanding-jaws", 60, 280, 600),
        ),
    }
    return Bench(**{**values, **change})


def facts(**change: Any) -> PieceFacts:
    """The ash salad bowl of the journey."""
    values: dict[str, Any] = {
        "species_key": "ash-european", "form_key": "side-grain-bowl", "way": "twice-turned", "state": "green",
        "diameter_mm": 290.0, "height_mm": 115.0, "finish_diameter_mm": 260.0,
    }  # fmt: skip
    return PieceFacts(**{**values, **change})


def a_drying_piece(**change: Any) -> DryingPiece:
    """A rough-out with a 25 mm wall of wood of middling density."""
    values: dict[str, Any] = {
        "grain": "side-grain", "wall_mm": 25.0, "foot_mm": 30.0, "gb": 0.55,
        "green_mc_pct": Known(60.0, 70.0, 80.0, False, "test"), "dry_mass_g": 1200.0,
        "shrink_tangential_pct": 8.0,
    }  # fmt: skip
    return DryingPiece(**{**values, **change})


SHELF = (Treatment(0.0, 18.0, 55.0),)
BAG = (Treatment(0.0, 18.0, 55.0, "paper-bag"),)
WOOD = species("ash-european")
