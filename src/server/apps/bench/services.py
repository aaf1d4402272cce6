"""Work at the bench: cards, and what follows when a stage is done."""

from datetime import datetime
from typing import Any
from uuid import uuid4

from django.db import transaction

from kilncore.errors import CoreError, Impossible
from kilncore.route.card import Card, CardAsk, NoteField
from kilncore.route.planner import STAGES, card_for
from kilncore.route.stages import explain
from server.apps.drying.models import DryingRun
from server.apps.drying.services import end_run, start_run
from server.apps.lathe.services import note_speed
from server.apps.pieces.models import Piece, Stage
from server.apps.pieces.queries import facts_of
from server.apps.pieces.services import finish_stage, reopen_stage
from server.apps.shop.models import Place
from server.apps.shop.queries import bench_of

__all__ = ["card_of", "complete", "take_back", "work_card"]

Notes = dict[str, float | str]
ON_PIECE = ("diameter_mm", "height_mm", "finish_diameter_mm", "finish_wall_mm")


def work_card(piece: Piece, kind: str, *, trial: Notes | None = None) -> Card:
    """Return a stage's card, with figures being tried in place of those kept.

    Raises what the core raises, so that a figure being typed is refused at its field.
    """
    trial = dict(trial or {})
    overrides: dict[str, object] = {}
    for key in ON_PIECE:
        if key in trial:
            value = trial.pop(key)
            if isinstance(value, str):
                raise Impossible("not-a-number", key, "This wants a number.")
            overrides[key] = value
    stage = next((s for s in piece.stages.all() if s.kind == kind), None)
    notes = {**(stage.notes if stage else {}), **trial}
    return card_for(kind, CardAsk(facts_of(piece, overrides), bench_of(piece.workshop), notes))


def card_of(piece: Piece, kind: str) -> Card:
    """Return the stored stage's card; where it cannot be computed, a card that says why."""
    try:
        return work_card(piece, kind)
    except CoreError as error:
        card = explain(error, kind=kind, title=STAGES[kind].title)
        return Card(card.kind, card.title, card.aim, inputs=_mend(piece), cautions=card.cautions)


def _mend(piece: Piece) -> tuple[NoteField, ...]:
    labels = ("Blank across", "Blank deep", "Finished across", "Finished wall")
    return tuple(
        NoteField(name, label, value=getattr(piece, name), on_piece=True)
        for name, label in zip(ON_PIECE, labels, strict=True)
    )


def _number(notes: Notes, *names: str) -> float | None:
    values = [notes[n] for n in names if isinstance(notes.get(n), int | float)]
    return float(values[0]) if values else None


@transaction.atomic
def complete(stage: Stage, *, notes: Notes, at: datetime, now: datetime, by: Any) -> Stage | None:
    """Mark a stage done; drying begins or ends with it."""
    piece = stage.piece
    following = finish_stage(stage, notes=notes, at=at, now=now, by=by)
    used = stage.notes.get("speed_rpm")
    if isinstance(used, int | float) and used >= 10.0:
        work = "rough" if stage.kind == "rough" else "finish"
        note_speed(
            piece.workshop, piece=piece, stage=work, swing_mm=piece.diameter_mm, speed_rpm=float(used),
            felt="calm", words="", now=at,
        )  # fmt: skip
    if stage.kind == "dry":
        for run in DryingRun.objects.filter(piece=piece, ended_at__isnull=True):
            end_run(run, at=at)
    if following is not None and following.kind == "dry":
        _begin_drying(piece, stage, at=at, by=by)
    return following


def _begin_drying(piece: Piece, stage: Stage, *, at: datetime, by: Any) -> None:
    place = Place.objects.filter(workshop=piece.workshop).first()
    if place is None:
        place = Place.objects.create(workshop=piece.workshop, name="Shelf", air_c=18.0, rh_pct=50.0)
    noted: Notes = {}
    for done in piece.stages.filter(state="done").order_by("position"):
        noted.update(done.notes)  # the last stage before drying need not be the one that measured
    start_run(
        Piece.objects.get(pk=piece.pk),
        at=at,
        place=place,
        by=by,
        mass_g=_number(stage.notes, "mass_g"),
        key=uuid4(),
        diameter_mm=_number(noted, "outside_diameter_mm", "final_diameter_mm"),
        wall_mm=_number(noted, "wall_mm", "final_wall_mm"),
        height_mm=_number(noted, "height_mm", "final_height_mm"),
        bottom_mm=_number(noted, "bottom_mm"),
    )


@transaction.atomic
def take_back(piece: Piece, *, now: datetime, by: Any) -> Stage:
    """Take back the last stage done; a drying it began goes only while nothing was weighed in it."""
    last = piece.stages.filter(state="done").order_by("-position").first()
    run = DryingRun.objects.filter(piece=piece, ended_at__isnull=True).first()
    if run is not None and last is not None and last.kind != "dry":
        if run.weigh_ins.exclude(typed="at the lathe").exists():
            raise Impossible(
                "already-weighed",
                "stage",
                "It has been weighed while drying; those weights would be lost. Correct the figures instead.",
            )
        run.delete()
    stage = reopen_stage(piece, now=now, by=by)
    if stage.kind == "dry":
        ended = DryingRun.objects.filter(piece=piece).order_by("-started_at").first()
        if ended is not None:
            ended.ended_at = None
            ended.save(update_fields=["ended_at"])
    return stage
