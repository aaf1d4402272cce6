"""From log to pieces: blanks are cut, become pieces with tags, and their kin can be read both ways."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Max

from kilncore.errors import Impossible
from kilncore.logs.blanks import CUTS, Blank, Saw, Spot
from kilncore.logs.cutting import trial_layout
from kilncore.route.facts import default_finish_mm
from kilncore.route.planner import STAGES
from kilncore.wood.species import all_species
from server.apps.pieces.models import Piece
from server.apps.pieces.queries import active_stage
from server.apps.pieces.services import begin_piece
from server.apps.yard import models as yard
from server.apps.yard.queries import blank_of, free_shape

__all__ = ["cut_log", "lineage_of", "uncut"]


@transaction.atomic
def cut_log(log: yard.Log, *, spots: tuple[Spot, ...], saw: Saw, now: datetime, by: Any) -> list[Piece]:
    """Cut the spots from what is left of a log; each blank becomes a piece with its own tag."""
    shape = free_shape(log)
    if shape is None:
        raise Impossible("not-measured", "length_mm", "Measure its length and width first.")
    layout = trial_layout(shape, spots, saw=saw)
    if layout.refused:
        key, why = layout.refused[0]
        raise Impossible(
            "nothing-comes-out", "spots", "Blank {id}: " + why.template, {"id": key, **why.params}
        )
    if layout.clashes:
        one, two = layout.clashes[0]
        raise Impossible(
            "clash", "spots", "Blanks {one} and {two} lie in each other.", {"one": one, "two": two}
        )
    for blank in layout.blanks:
        start, end = blank.spot.start_mm, blank.spot.start_mm + blank.spot.length_mm
        if start < shape.trim_start_mm - 0.5 or end > shape.length_mm - shape.trim_end_mm + 0.5:
            text = "Blank {id} lies where the log is trimmed or cut away already."
            raise Impossible("cut-already", "spots", text, {"id": blank.spot.id})
    last = log.blanks.aggregate(top=Max("number"))["top"] or 0
    made = [_piece(log, b, last + 1 + i, now=now, by=by) for i, b in enumerate(layout.blanks)]
    log.plan = {}
    log.save(update_fields=["plan"])
    return made


def _piece(log: yard.Log, blank: Blank, number: int, *, now: datetime, by: Any) -> Piece:
    row = yard.Blank.objects.create(
        log=log, number=number, cut=blank.spot.cut, form=blank.form,
        spot={"angle_deg": blank.spot.angle_deg, "face_mm": blank.spot.face_mm, "shift_mm": blank.spot.shift_mm},
        end=blank.end, diameter_mm=blank.diameter_mm, height_mm=blank.height_mm, pith_mm=blank.pith_mm,
        holds_pith=blank.holds_pith, start_mm=blank.spot.start_mm, length_mm=blank.spot.length_mm,
        volume_cm3=blank.volume_cm3, cut_at=now,
    )  # fmt: skip
    side_grain = blank.form != "end-grain-vase"
    return begin_piece(
        log.workshop, now=now, by=by, tag=None, log=log, blank=row, species=log.species, form=blank.form,
        state="green", way="bored-branch" if blank.spot.cut == "bored-branch" else None,
        diameter_mm=blank.diameter_mm, height_mm=blank.height_mm,
        finish_diameter_mm=default_finish_mm(blank.diameter_mm, state="green"),
        finish_wall_mm=min(6.0, blank.diameter_mm / 12.0),
        pith_mm=blank.pith_mm if side_grain else None,
        conditions="cracked" if log.cracked else "",
    )  # fmt: skip


@transaction.atomic
def uncut(log: yard.Log, number: int) -> None:
    """Take back a blank; refused once its piece has been worked on."""
    blank = blank_of(log, number)
    for piece in blank.pieces.all():
        if piece.stages.filter(state="done").exists() or piece.parts.exists():
            raise Impossible(
                "already-begun",
                "number",
                "Piece {tag} has been worked on: take its stages back first.",
                {"tag": piece.tag},
            )
        piece.delete()
    blank.delete()


def _kin(piece: Piece) -> dict[str, str]:
    stage = active_stage(piece)
    title = STAGES[stage.kind].title if stage else "Split" if piece.became else "Done"
    return {"tag": piece.tag, "name": piece.name, "stage_title": title}


def lineage_of(piece: Piece) -> dict[str, Any]:
    """Return log, blank, ancestors, parts, and the others of the same log."""
    ancestors, above = [], piece.parent
    while above is not None and len(ancestors) < 20:
        ancestors.append(above)
        above = above.parent
    log, blank = piece.log, piece.blank
    kin = log.pieces.exclude(pk=piece.pk).prefetch_related("stages") if log else []
    return {
        "log_id": log.id if log else None,
        "log_number": log.number if log else None,
        "log_species": all_species()[log.species].common if log else None,
        "blank_number": blank.number if blank else None,
        "blank_cut": CUTS[blank.cut].label if blank else None,
        "blank_words": CUTS[blank.cut].good_for if blank else None,
        "ancestors": [_kin(p) for p in ancestors],
        "parts": [_kin(p) for p in piece.parts.prefetch_related("stages").order_by("tag")],
        "same_log": [_kin(p) for p in kin],
    }
