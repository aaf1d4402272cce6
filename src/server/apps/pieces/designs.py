"""A drawn form as it is kept with a piece, and as the core takes it."""

from typing import Any

from kilncore.solids.curve import Handle
from kilncore.solids.design import Design, Foot
from kilncore.solids.walls import WallPlan

__all__ = ["design_from", "design_kept"]


def _handles(rows: list[dict[str, Any]]) -> tuple[Handle, ...]:
    return tuple(Handle(row["r_mm"], row["z_mm"], bool(row.get("corner", False))) for row in rows)


def design_from(data: dict[str, Any]) -> Design | None:
    """Return the form a piece carries; None where none was drawn for it."""
    if not data.get("outer"):
        return None
    return Design(
        outer=_handles(data["outer"]),
        inner=_handles(data.get("inner") or []),
        plan=WallPlan(data["wall"], data["wall_mm"], data["bottom_mm"]),
        half_mm=data.get("half_mm"),
        foot=Foot(data["foot"], data["foot_mm"], data["foot_length_mm"]),
    )


def design_kept(design: Design) -> dict[str, Any]:
    """Return a form as it is stored and sent."""

    def rows(handles: tuple[Handle, ...]) -> list[dict[str, Any]]:
        return [{"r_mm": round(h.r_mm, 3), "z_mm": round(h.z_mm, 3), "corner": h.corner} for h in handles]

    return {
        "outer": rows(design.outer),
        "inner": rows(design.inner),
        "wall": design.plan.kind,
        "wall_mm": design.plan.wall_mm,
        "bottom_mm": design.plan.bottom_mm,
        "half_mm": design.half_mm,
        "foot": design.foot.kind,
        "foot_mm": design.foot.diameter_mm,
        "foot_length_mm": design.foot.length_mm,
    }
