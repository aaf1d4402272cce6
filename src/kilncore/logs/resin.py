"""How much resin a void takes, in what parts and how many pours."""

import math
from dataclasses import dataclass

from kilncore.errors import Impossible, Unknown, require_range
from kilncore.said import Caution, Sentence, say

__all__ = ["VOIDS", "Pour", "ResinPlan", "resin_plan", "void_ml"]

VOIDS: dict[str, tuple[str, ...]] = {
    "box": ("length_mm", "width_mm", "depth_mm"),
    "cylinder": ("diameter_mm", "depth_mm"),
    "wedge": ("length_mm", "width_mm", "depth_mm"),
    "measured": ("filled_ml",),
}


@dataclass(frozen=True, slots=True)
class Pour:
    """One pour: both parts by weight and together by volume."""

    number: int
    volume_ml: float
    part_a_g: float
    part_b_g: float
    layer_mm: float


@dataclass(frozen=True, slots=True)
class ResinPlan:
    """What to mix, in how many pours."""

    void_ml: float
    mix_ml: float
    part_a_g: float
    part_b_g: float
    pours: tuple[Pour, ...]
    why: Sentence
    cautions: tuple[Caution, ...]


def void_ml(kind: str, **sizes: float) -> float:
    """Return the volume of a void.

    Parameters
    ----------
    kind : str
        box, cylinder, wedge (half a box) or measured.
    **sizes : float
        The lengths ``VOIDS`` names for it, in mm; ``filled_ml`` of water or rice for measured.

    Returns
    -------
    void_ml : float
        Volume. [ml]

    Raises
    ------
    Unknown, Impossible, OutOfRange
        For a kind or a size that is missing or out of reason.

    References
    ----------
    .. [geometry] box, cylinder, half a box.
    """
    if kind not in VOIDS:
        raise Unknown("void", kind, list(VOIDS))
    for name in VOIDS[kind]:
        if name not in sizes:
            raise Impossible("missing-size", name, "This is still to be filled in.")
        require_range(name, sizes[name], 0.5, 20_000.0 if name == "filled_ml" else 1500.0)
    if kind == "measured":
        return sizes["filled_ml"]
    if kind == "cylinder":
        return math.pi * (sizes["diameter_mm"] / 2.0) ** 2 * sizes["depth_mm"] / 1000.0
    box = sizes["length_mm"] * sizes["width_mm"] * sizes["depth_mm"] / 1000.0
    return box if kind == "box" else box / 2.0


def resin_plan(
    volume_ml: float,
    *,
    depth_mm: float,
    loss_pct: float = 10.0,
    ratio_a: float = 2.0,
    ratio_b: float = 1.0,
    by: str = "weight",
    density_a_kg_m3: float = 1140.0,
    density_b_kg_m3: float = 1000.0,
    layer_mm: float = 20.0,
) -> ResinPlan:
    """Return both parts by weight, and the pours for a greatest layer.

    Parameters
    ----------
    volume_ml : float
        The void. [ml]
    depth_mm : float
        Its depth. [mm]
    loss_pct : float
        What soaks in and stays in the cup. [%]
    ratio_a, ratio_b : float
        Parts of resin and hardener.
    by : str
        Whether the ratio is by weight or volume.
    density_a_kg_m3, density_b_kg_m3 : float
        Of both parts, off the maker's sheet. [kg/m3]
    layer_mm : float
        Greatest layer of one pour, off the maker's sheet. [mm]

    Returns
    -------
    plan : ResinPlan
        Weights add up to the mix in every pour.

    Raises
    ------
    Unknown, OutOfRange
        For figures out of reason.

    References
    ----------
    .. [maker] densities and layer of a usual casting resin; the tin's own sheet governs.
    """
    require_range("volume_ml", volume_ml, 0.5, 20_000.0)
    require_range("depth_mm", depth_mm, 0.5, 1500.0)
    require_range("loss_pct", loss_pct, 0.0, 100.0)
    require_range("layer_mm", layer_mm, 1.0, 200.0)
    for name, value in (("ratio_a", ratio_a), ("ratio_b", ratio_b)):
        require_range(name, value, 0.05, 200.0)
    for name, value in (("density_a_kg_m3", density_a_kg_m3), ("density_b_kg_m3", density_b_kg_m3)):
        require_range(name, value, 700.0, 2500.0)
    if by not in ("weight", "volume"):
        raise Unknown("by", by, ["weight", "volume"])
    mix = volume_ml * (1.0 + loss_pct / 100.0)
    a, b = _parts(mix, ratio_a, ratio_b, by, density_a_kg_m3, density_b_kg_m3)
    count = max(1, math.ceil(depth_mm / layer_mm - 1e-9))
    pours = tuple(
        Pour(
            i + 1, round(mix / count, 1), round(a / count, 1), round(b / count, 1), round(depth_mm / count, 1)
        )
        for i in range(count)
    )
    words = "{void_ml} to fill and {loss_pct} for what soaks in and stays in the cup; " + (
        "{count} pours of {each_mm}, none above {layer_mm}." if count > 1 else "one pour, under {layer_mm}."
    )
    why = say(
        "resin", words, void_ml=volume_ml, loss_pct=loss_pct, count=str(count), each_mm=depth_mm / count,
        layer_mm=layer_mm,
    )  # fmt: skip
    return ResinPlan(round(volume_ml, 1), round(mix, 1), round(a, 1), round(b, 1), pours, why, CAUTIONS)


def _parts(mix: float, a: float, b: float, by: str, rho_a: float, rho_b: float) -> tuple[float, float]:
    """Grams of both parts of a mixed volume, volumes taken to add."""
    if by == "volume":
        return mix * a / (a + b) * rho_a / 1000.0, mix * b / (a + b) * rho_b / 1000.0
    each_ml = a / (a + b) / rho_a * 1000.0 + b / (a + b) / rho_b * 1000.0
    total = mix / each_ml
    return total * a / (a + b), total * b / (a + b)


CAUTIONS = (
    Caution("care", say("resin-skin", "Gloves and eye protection; resin and hardener sensitise the skin.")),
    Caution("care", say("resin-heat", "A deep pour heats itself and may smoke: keep to the maker's layer.")),
    Caution("care", say("resin-air", "Ventilate; the maker's sheet governs mixing, layers and waiting.")),
    Caution(
        "note", say("resin-dry", "The wood must be dry: resin will not bond to a wet wall, and it will move.")
    ),
)
