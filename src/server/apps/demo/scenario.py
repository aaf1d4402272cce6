"""The invented yard: a canal side where one turner takes in wind-felled street and park trees."""

from dataclasses import dataclass, field
from typing import Any

__all__ = ["LOGS", "PIECES", "PLACES", "DemoPiece"]

# name, °C, %
PLACES = (("Bag corner", 15.0, 63.0), ("Loft shelf", 18.0, 48.0), ("Stove wall", 24.0, 34.0))

# What was noted of each log; felled so many days ago.
LOGS: tuple[tuple[int, dict[str, Any]], ...] = (
    (210, dict(species="walnut-european", origin="Lock keeper's garden", length_mm=900, large_wide_mm=410,
               large_tall_mm=400, small_wide_mm=380, small_tall_mm=372, bark_mm=12, pith_offset_mm=15,
               pith_angle_deg=60, ends_sealed=True, lies_at="under the tarpaulin", note="storm of the spring",
               tried={"heart": "dark", "smell": "sharp"})),
    (24, dict(species="plane-london", origin="Quay road, third tree", length_mm=1400, large_wide_mm=560,
              large_tall_mm=520, small_wide_mm=520, small_tall_mm=490, bark_mm=8, pith_offset_mm=40,
              pith_angle_deg=150, lies_at="by the gate", note="heavy, lacy rays", tried={"rays": "bold"})),
    (9, dict(species="ash-european", origin="Towpath bend", length_mm=1100, large_wide_mm=450, large_tall_mm=440,
             small_wide_mm=420, small_tall_mm=416, bark_mm=11, pith_offset_mm=10, pith_angle_deg=330,
             lies_at="on the trestles")),
    (60, dict(species="pear", origin="Chapel yard", length_mm=600, large_wide_mm=255, large_tall_mm=240,
              small_wide_mm=240, small_tall_mm=232, bark_mm=7, pith_offset_mm=8, cracked=True, ends_sealed=True,
              trim_start_mm=60, lies_at="under the bench", note="checks at one end")),
    (130, dict(species="elm-wych", origin="Mill pond", length_mm=800, diameter_mm=310, ends_sealed=True,
               lies_at="by the gate", note="interlocked, smells", insects=True)),
    (16, dict(species="unknown-fruitwood", origin="Lane behind the chapel", lies_at="on the trestles",
              note="small tree, reddish, no leaves left", tried={"pores": "diffuse", "heart": "red"})),
    (5, dict(species="beech-european", origin="Weir cottage, a branch", length_mm=700, large_wide_mm=118,
             large_tall_mm=116, small_wide_mm=104, small_tall_mm=102, bark_mm=3, pith_offset_mm=5,
             lies_at="on the trestles")),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class DemoPiece:
    """A piece of the scenario and how far it has come.

    ``stays`` are (days ago, place, wrap, ends sealed); ``weighed`` days ago;
    ``done`` are stages after drying, (kind, days ago).
    """

    tag: str
    name: str
    species: str
    form: str
    way: str
    diameter_mm: float
    height_mm: float
    roughed: float | None = None
    wall_mm: float = 0.0
    stays: tuple[tuple[float, int, str, bool], ...] = ()
    weighed: tuple[float, ...] = ()
    done: tuple[tuple[str, float], ...] = ()
    coats: tuple[float, ...] = ()
    log: int | None = None
    state: str = "green"
    purpose: str = "food"
    conditions: str = ""
    notes: dict[str, float | str] = field(default_factory=dict)


_BOWL, _NATURAL, _VASE = "side-grain-bowl", "natural-edge-bowl", "end-grain-vase"
_TWICE = "twice-turned"

PIECES = (
    DemoPiece("9", "Lock gate bowl", "walnut-european", _BOWL, _TWICE, 285, 105, 260, 28,
              ((260, 0, "paper-bag", True), (215, 1, "open-shelf", True), (120, 2, "open-shelf", True)),
              (259, 245, 225, 200, 170, 130, 100, 80),
              (("dry", 70), ("turn", 69), ("sand", 69), ("coat", 62), ("foot", 61), ("sign", 61)),
              (69, 68, 67), log=1),
    DemoPiece("11", "Wobbly walnut", "walnut-european", _BOWL, _TWICE, 300, 110, 205, 29,
              ((205, 0, "paper-bag", True), (165, 1, "open-shelf", True), (80, 2, "open-shelf", True)),
              (204, 196, 182, 165, 140, 112, 80, 50, 22, 3), log=1),
    DemoPiece("12", "Towpath ash", "ash-european", _BOWL, _TWICE, 280, 110, 66, 28,
              ((66, 0, "paper-bag", True), (24, 1, "open-shelf", True)), (65, 60, 50, 38, 24, 12, 2)),
    DemoPiece("13", "Big plane", "plane-london", _BOWL, _TWICE, 360, 140, 5, 38,
              ((5, 2, "open-shelf", False),), (5, 3), log=2),
    DemoPiece("14", "Quay beech", "beech-european", _BOWL, _TWICE, 260, 95, 52, 26,
              ((52, 0, "paper-bag", True), (28, 1, "open-shelf", True)), (51, 46, 38, 30)),
    DemoPiece("15", "Hornbeam block bowl", "hornbeam", _BOWL, _TWICE, 220, 85, 20, 22,
              ((20, 0, "paper-bag", True),), (20, 16, 9, 1)),
    DemoPiece("16", "Chapel pear", "pear", _NATURAL, "once-green", 210, 90, 4, 6,
              ((4, 0, "paper-bag", False), (1, 1, "open-shelf", False)), (4, 2, 1), log=4, purpose="show"),
    DemoPiece("17", "Mill pond vase", "elm-wych", _VASE, _TWICE, 140, 240, 34, 18,
              ((34, 0, "paper-bag", True),), (33, 27, 18, 6), log=5, purpose="show"),
    DemoPiece("18", "Chestnut for the vicar", "chestnut-sweet", _BOWL, _TWICE, 270, 100, 190, 26,
              ((190, 0, "paper-bag", True), (150, 1, "open-shelf", True), (60, 2, "open-shelf", True)),
              (190, 180, 160, 130, 100, 70, 45, 20, 4)),
    DemoPiece("19", "Fruit bowl", "ash-european", _BOWL, _TWICE, 275, 105, 230, 27,
              ((230, 0, "paper-bag", True), (190, 1, "open-shelf", True), (100, 2, "open-shelf", True)),
              (229, 210, 180, 150, 110, 60, 20), (("dry", 6), ("turn", 4), ("sand", 2)), (0.8,)),
    DemoPiece("20", "Bridge plane", "plane-london", _BOWL, "from-dry", 230, 80, done=(("turn-dry", 1),), state="dry"),
    DemoPiece("21", "Ring dish", "elm-wych", _BOWL, "from-dry", 180, 60,
              done=(("turn-dry", 9), ("sand", 8), ("coat", 2)), coats=(8, 7, 6), state="dry", log=5),
    DemoPiece("22", "Storm pear bowl", "pear", _BOWL, _TWICE, 200, 80, 96, 20,
              ((96, 0, "paper-bag", True), (60, 1, "open-shelf", True)), (95, 88, 70, 52, 33, 17)),
    DemoPiece("23", "Towpath half", "ash-european", _BOWL, _TWICE, 290, 120, log=3),
    DemoPiece("25", "Weir branch, bagged", "beech-european", _VASE, "bored-branch", 100, 200, 40, 32,
              ((40, 0, "plastic-loose", False),), (40, 30, 18, 6), purpose="show"),
    DemoPiece("26", "Weir branch, outside", "beech-european", _VASE, "bored-branch", 98, 200, 40, 32,
              ((40, 0, "open-shelf", False),), (40, 30, 18, 6), purpose="show"),
    DemoPiece("27", "Lock keeper's vase", "pear", "hollow-form", "from-dry", 160, 230, state="dry", purpose="show"),
    DemoPiece("28", "Plane for three", "plane-london", _BOWL, _TWICE, 410, 195, log=2),
    DemoPiece("29", "Square elm dish", "elm-wych", "winged-bowl", "from-dry", 230, 70, state="dry", log=5),
    DemoPiece("24", "Quay offcut", "plane-london", _NATURAL, "once-green", 240, 100, log=2, conditions="barky"),
)  # fmt: skip

# Kind, name and figures of the tools on the wall.
TOOLS = (
    ("coring-knife", "small knife", {"radius_mm": 95.0, "kerf_mm": 7.0, "reach_mm": 165.0, "clear_mm": 18.0}),
    ("coring-knife", "middle knife", {"radius_mm": 130.0, "kerf_mm": 7.0, "reach_mm": 225.0, "clear_mm": 20.0}),
    ("coring-knife", "large knife", {"radius_mm": 165.0, "kerf_mm": 8.0, "reach_mm": 285.0, "clear_mm": 24.0}),
    ("bar", "straight 16", {"diameter_mm": 16.0, "length_mm": 420.0, "handle_mm": 700.0, "hook_mm": 0.0, "neck_mm": 0.0}),
    ("bar", "swan neck 12", {"diameter_mm": 12.0, "length_mm": 320.0, "handle_mm": 620.0, "hook_mm": 34.0, "neck_mm": 14.0}),
    ("steady", "wheel steady", {"low_mm": 60.0, "high_mm": 240.0}),
    ("collet", "38 mm collet", {"bore_mm": 38.0, "depth_mm": 25.0}),
    ("screws", "6 × 50 screws", {"diameter_mm": 6.0, "length_mm": 50.0}),
)  # fmt: skip
