"""What is known of a piece when its route is planned; most of it may be unknown."""

import math
from dataclasses import dataclass, field

from kilncore.errors import Impossible, Unknown, require_range
from kilncore.rules.hold import FORMS, Form
from kilncore.solids.design import Design
from kilncore.wood.species import Species, species

__all__ = ["PURPOSES", "STATES", "PieceFacts", "default_finish_mm"]

STATES: dict[str, str] = {"green": "green", "part-dry": "part dry", "dry": "dry"}
PURPOSES: dict[str, str] = {"food": "to eat from", "show": "to look at"}

# Moisture the finished piece settles at, near enough for shrinkage.
SETTLED_MC_PCT = 10.0


@dataclass(frozen=True, slots=True)
class PieceFacts:
    """A piece as the planner sees it. Lengths in mm, moisture in %.

    ``recorded`` holds the figures noted at earlier stages, by stage kind.
    """

    species_key: str
    form_key: str
    way: str
    state: str
    diameter_mm: float
    height_mm: float
    finish_diameter_mm: float
    finish_wall_mm: float = 6.0
    purpose: str = "food"
    conditions: tuple[str, ...] = ()
    pith_mm: float | None = None
    mc_pct: float | None = None
    recorded: dict[str, dict[str, float | str]] = field(default_factory=dict)
    design: Design | None = None

    def __post_init__(self) -> None:
        species(self.species_key)
        if self.form_key not in FORMS:
            raise Unknown("form", self.form_key, list(FORMS))
        if self.state not in STATES:
            raise Unknown("state", self.state, list(STATES))
        if self.purpose not in PURPOSES:
            raise Unknown("purpose", self.purpose, list(PURPOSES))
        require_range("diameter_mm", self.diameter_mm, 30.0, 1200.0)
        require_range("height_mm", self.height_mm, 15.0, 1200.0)
        require_range("finish_diameter_mm", self.finish_diameter_mm, 25.0, 1200.0)
        require_range("finish_wall_mm", self.finish_wall_mm, 1.5, 60.0)
        if self.finish_diameter_mm > self.diameter_mm:
            raise Impossible(
                "finish-larger-than-blank",
                "finish_diameter_mm",
                "A blank {diameter_mm} across cannot give {finish_diameter_mm}.",
                {
                    "diameter_mm": self.diameter_mm,
                    "finish_diameter_mm": self.finish_diameter_mm,
                },
            )
        if 2.0 * self.finish_wall_mm >= self.finish_diameter_mm:
            raise Impossible(
                "wall-thicker-than-bowl",
                "finish_wall_mm",
                "Two walls of {finish_wall_mm} do not fit in {finish_diameter_mm}; "
                "less than {most_mm} leaves a hollow.",
                {
                    "finish_wall_mm": self.finish_wall_mm,
                    "finish_diameter_mm": self.finish_diameter_mm,
                    "most_mm": self.finish_diameter_mm / 2.0,
                },
            )

    @property
    def form(self) -> Form:
        """Its form."""
        return FORMS[self.form_key]

    @property
    def wood(self) -> Species:
        """Its species."""
        return species(self.species_key)

    def noted(self, kind: str, name: str) -> float | None:
        """A number noted at an earlier stage, or None."""
        value = self.recorded.get(kind, {}).get(name)
        return float(value) if isinstance(value, int | float) else None

    @property
    def swing_share(self) -> float:
        """The circle the farthest corner sweeps over the width: a square's diagonal."""
        return math.sqrt(2.0) if self.form_key == "winged-bowl" else 1.0

    @property
    def speed_conditions(self) -> tuple[str, ...]:
        """Conditions that matter to the lathe's speed; a natural edge carries bark."""
        extra = {"natural-edge-bowl": ("barky",), "winged-bowl": ("winged",)}.get(self.form_key, ())
        return tuple(dict.fromkeys((*self.conditions, *extra)))


def default_finish_mm(diameter_mm: float, *, state: str) -> float:
    """Return a sensible finished diameter for a blank: nine tenths when green.

    Parameters
    ----------
    diameter_mm : float
        Blank. [mm]
    state : str
        green, part-dry or dry.

    Returns
    -------
    finish_mm : float
        Rounded down to 5 mm. [mm]

    References
    ----------
    .. [assumed] shrinkage plus clean-up of common hardwoods.
    """
    share = 0.9 if state == "green" else 0.94 if state == "part-dry" else 0.97
    return max(25.0, diameter_mm * share // 5 * 5)
