"""Keeping what is drawn and measured at the lathe; one function a verb."""

import uuid
from datetime import datetime
from typing import Any

from django.db import transaction

from kilncore.coring.nest import Nest, NestAsk
from kilncore.errors import Impossible, require_range
from kilncore.route.facts import default_finish_mm
from kilncore.rules.speed import SPEED_STAGES
from kilncore.solids.curve import foot_index
from kilncore.solids.depth import Reading, check_readings
from kilncore.solids.design import Design
from server.apps.lathe.models import CalliperReading, Sketch, SpeedUse
from server.apps.lathe.queries import is_dry
from server.apps.pieces.designs import design_from, design_kept
from server.apps.pieces.models import Event, Piece
from server.apps.pieces.services import begin_piece
from server.apps.shop.models import Workshop

__all__ = [
    "cores_of",
    "drop_calliper",
    "keep_design",
    "keep_sketch",
    "last_speeds",
    "note_speed",
    "put_back_cores",
    "read_calliper",
    "take_cores",
]


@transaction.atomic
def keep_design(piece: Piece, design: Design | None, *, now: datetime, by: Any) -> Piece:
    """Give a piece its own form, or take it away; its finished sizes follow what was drawn."""
    piece.refresh_from_db()
    before = piece.design
    piece.design = {}
    fields = ["design"]
    if design is not None:
        outer, _inner = design.paths()
        wide = 2.0 * max(r for r, _ in outer[foot_index(outer) :])
        wide = min(wide, 2.0 * (design.half_mm or wide))
        if wide > piece.diameter_mm:
            text = "It is {drawn_mm} across and the blank of piece {tag} has {blank_mm}: draw it smaller."
            params: dict[str, float | str] = {
                "drawn_mm": wide,
                "blank_mm": piece.diameter_mm,
                "tag": piece.tag,
            }
            raise Impossible("wider-than-blank", "outer", text, params)
        piece.design = design_kept(design)
        piece.finish_diameter_mm = round(wide, 1)
        piece.finish_wall_mm = min(design.plan.wall_mm, 0.45 * wide)
        fields += ["finish_diameter_mm", "finish_wall_mm"]
    piece.save(update_fields=fields)
    Event.objects.create(
        piece=piece, at=now, verb="drawn", words="Its own form", by=by, data={"before": before}
    )
    return piece


@transaction.atomic
def keep_sketch(workshop: Workshop, *, name: str, design: Design, now: datetime) -> Sketch:
    """Keep a form under a name; the same name again replaces it."""
    design.paths()
    row = Sketch.objects.filter(workshop=workshop, name=name).first() or Sketch(workshop=workshop, name=name)
    row.design, row.kept_at = design_kept(design), now
    row.full_clean()
    row.save()
    return row


@transaction.atomic
def read_calliper(piece: Piece, *, z_mm: float, wall_mm: float, now: datetime, by: Any) -> CalliperReading:
    """Note a wall read at a height; it must be a place where there is one."""
    design = design_from(piece.design)
    if design is None:
        raise Impossible("no-form", "z_mm", "Draw and keep its form first: readings are set beside the plan.")
    require_range("wall_mm", wall_mm, 0.2, 150.0)
    outer, inner = design.paths()
    check_readings(outer, inner, (Reading(z_mm, wall_mm),))
    row = CalliperReading(piece=piece, z_mm=z_mm, wall_mm=wall_mm, at=now, by=by)
    row.full_clean()
    row.save()
    return row


@transaction.atomic
def drop_calliper(row: CalliperReading) -> None:
    """Take a reading back."""
    row.delete()


@transaction.atomic
def note_speed(
    workshop: Workshop,
    *,
    piece: Piece | None,
    stage: str,
    swing_mm: float,
    speed_rpm: float,
    felt: str,
    words: str,
    now: datetime,
) -> SpeedUse:
    """Write down a speed that was used and how it felt."""
    if stage not in SPEED_STAGES:
        raise Impossible("no-such-stage", "stage", "That is no kind of work at the lathe.")
    require_range("swing_mm", swing_mm, 5.0, 1500.0)
    require_range("speed_rpm", speed_rpm, 10.0, 6000.0)
    row = SpeedUse(
        workshop=workshop,
        piece=piece,
        stage=stage,
        swing_mm=swing_mm,
        speed_rpm=speed_rpm,
        felt=felt,
        words=words,
        at=now,
    )
    row.full_clean()
    row.save()
    return row


def last_speeds(
    workshop: Workshop, *, stage: str | None, swing_mm: float | None, most: int = 5
) -> list[SpeedUse]:
    """Return speeds used before for like work: the same stage, sizes within a third, newest first."""
    found = SpeedUse.objects.filter(workshop=workshop).select_related("piece")
    if stage:
        found = found.filter(stage=stage)
    if swing_mm:
        found = found.filter(swing_mm__gte=0.67 * swing_mm, swing_mm__lte=1.5 * swing_mm)
    return list(found[:most])


@transaction.atomic
def take_cores(piece: Piece, ask: NestAsk, nest: Nest, *, now: datetime, by: Any) -> list[Piece]:
    """Make the cores pieces of their own, kin of this one, each with its route; the smallest comes first."""
    piece.refresh_from_db()
    there = cores_of(piece)
    if there:
        text = "Its cores are pieces already: {tags}. If they did not come out so, take them back first."
        raise Impossible("already-cored", "cuts", text, {"tags": ", ".join(p.tag for p in there)})
    state = "dry" if is_dry(piece) else piece.state
    wrong = next((c for c in nest.cores if c.refused), None)
    if wrong is not None:
        first = wrong.refused[0]
        raise Impossible("core-refused", "cuts", first.template, dict(first.params))
    if not nest.cores:
        raise Impossible("no-cores", "cuts", "There is no core in it to take.")
    made = []
    for core in nest.cores:
        width, depth = round(core.diameter_mm, 1), round(core.height_mm, 1)
        made.append(
            begin_piece(
                piece.workshop, now=now, by=by, tag=None, log=piece.log, blank=piece.blank, parent=piece,
                species=piece.species, form="side-grain-bowl", state=state, way=None,
                diameter_mm=width, height_mm=depth, finish_diameter_mm=default_finish_mm(width, state=state),
                finish_wall_mm=min(6.0, width / 12.0), purpose=piece.purpose, conditions=piece.conditions,
                pith_mm=piece.pith_mm, name=f"core of {piece.tag}",
            )
        )  # fmt: skip
    words = ", ".join(p.tag for p in made)
    Event.objects.create(
        piece=piece, at=now, verb="cored", words=f"Cores {words}", by=by,
        data={"tags": [p.tag for p in made], "wall_mm": ask.wall_mm, "batch": str(uuid.uuid4())},
    )  # fmt: skip
    return made


def cores_of(piece: Piece) -> list[Piece]:
    """Return the pieces that came out of this one as cores and are still there, smallest first."""
    tags = [t for e in piece.events.filter(verb="cored") for t in e.data.get("tags", [])]
    return sorted(piece.parts.filter(tag__in=tags), key=lambda p: p.diameter_mm)


@transaction.atomic
def put_back_cores(piece: Piece, *, now: datetime, by: Any) -> None:
    """Take the cores' pieces back; refused once one of them has been worked on."""
    cores = cores_of(piece)
    if not cores:
        raise Impossible("no-cores", "cuts", "No cores were taken from it.")
    for core in cores:
        if core.stages.filter(state="done").exists() or core.parts.exists():
            text = "Piece {tag} has been worked on: take its stages back first."
            raise Impossible("already-begun", "cuts", text, {"tag": core.tag})
    words = ", ".join(p.tag for p in cores)
    for core in cores:
        core.delete()
    Event.objects.create(piece=piece, at=now, verb="cores-put-back", words=f"Cores {words}", by=by)
