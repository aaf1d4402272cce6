"""Changing pieces: one function a verb, each checked by the core and written down."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.shortcuts import get_object_or_404

from kilncore.errors import Impossible
from kilncore.route.card import CardAsk
from kilncore.route.planner import STAGES, WAYS, card_for, default_way, plan_route, record_stage
from server.apps.pieces.models import Coat, Event, Piece, Stage
from server.apps.pieces.queries import facts_of, free_tag
from server.apps.shop.models import Workshop
from server.apps.shop.queries import bench_of

__all__ = [
    "begin_piece",
    "change_piece",
    "finish_stage",
    "give_coat",
    "keep_notes",
    "not_future",
    "reopen_stage",
    "take_back_coat",
]

Notes = dict[str, float | str]


def not_future(at: datetime, *, now: datetime, field: str) -> None:
    """Refuse a moment that is still to come (five minutes of clock drift allowed)."""
    if (at - now).total_seconds() > 300:
        raise Impossible("future", field, "That moment is still to come; it must be now or earlier.")


def _write(piece: Piece, verb: str, words: str, *, at: datetime, by: Any, **data: Any) -> None:
    Event.objects.create(piece=piece, at=at, verb=verb, words=words, data=data, by=by)


@transaction.atomic
def begin_piece(workshop: Workshop, *, now: datetime, by: Any, tag: str | None, **values: Any) -> Piece:
    """Begin a piece: plan its route, give it a tag, make the first stage active."""
    way = values.pop("way", None) or default_way(values["state"], form_key=values["form"])
    log_id = values.pop("log_id", None)
    log = values.pop("log", None) or (get_object_or_404(workshop.logs, id=log_id) if log_id else None)
    piece = Piece(workshop=workshop, log=log, way=way, begun_at=now, tag=tag or free_tag(workshop), **values)
    if workshop.pieces.filter(tag=piece.tag).exists():
        raise Impossible(
            "tag-taken",
            "tag",
            "Tag {tag} is on another piece already; {free} is free.",
            {"tag": piece.tag, "free": free_tag(workshop)},
        )
    planned = plan_route(facts_of(piece), bench=bench_of(workshop))
    piece.full_clean()
    piece.save()
    Stage.objects.bulk_create(
        Stage(piece=piece, position=i, kind=s.kind, state="waiting" if i else "active")
        for i, s in enumerate(planned)
    )
    _write(piece, "begun", f"{WAYS[way].label}", at=now, by=by)
    return piece


@transaction.atomic
def change_piece(piece: Piece, *, now: datetime, by: Any, changes: dict[str, Any]) -> Piece:
    """Change what is known of a piece; figures follow, done stages stay."""
    piece.refresh_from_db()
    tag = changes.get("tag")
    if tag and tag != piece.tag and piece.workshop.pieces.filter(tag=tag).exists():
        raise Impossible("tag-taken", "tag", "Tag {tag} is on another piece already.", {"tag": tag})
    before = {key: getattr(piece, key) for key in changes}
    for key, value in changes.items():
        setattr(piece, key, value)
    planned = plan_route(facts_of(piece), bench=bench_of(piece.workshop))
    piece.full_clean()
    piece.save()
    if "way" in changes and changes["way"] != before["way"]:
        _replan(piece, [s.kind for s in planned])
    _write(piece, "changed", ", ".join(changes), at=now, by=by, before=before, after=changes)
    return piece


def _replan(piece: Piece, kinds: list[str]) -> None:
    if piece.stages.filter(state="done").exists():
        raise Impossible("already-begun", "way", "Work has begun on it: take the stages back first.")
    piece.stages.all().delete()
    Stage.objects.bulk_create(
        Stage(piece=piece, position=i, kind=kind, state="waiting" if i else "active")
        for i, kind in enumerate(kinds)
    )


@transaction.atomic
def keep_notes(stage: Stage, notes: Notes) -> Stage:
    """Keep what was noted so far without marking the stage done."""
    stage.refresh_from_db()  # what another request noted meanwhile must not be lost
    piece = stage.piece
    ask = CardAsk(facts_of(piece), bench_of(piece.workshop))
    stage.notes = record_stage(stage.kind, ask, {**stage.notes, **notes}, complete=False)
    stage.save(update_fields=["notes"])
    return stage


@transaction.atomic
def finish_stage(stage: Stage, *, notes: Notes, at: datetime, now: datetime, by: Any) -> Stage | None:
    """Mark the active stage done with its notes; return the next stage, None at the end."""
    stage.refresh_from_db()
    piece = stage.piece
    not_future(at, now=now, field="at")
    if stage.state != "active":
        raise Impossible(
            "not-in-hand", "stage", "{stage} is not the stage in hand.", {"stage": STAGES[stage.kind].title}
        )
    before = piece.stages.filter(state="done").order_by("-done_at").first()
    if before and before.done_at and at < before.done_at:
        raise Impossible("before-last-stage", "at", "The stage before it was done later than that.")
    ask = CardAsk(facts_of(piece), bench_of(piece.workshop))
    stage.notes = record_stage(stage.kind, ask, {**stage.notes, **notes}, complete=True)
    stage.state, stage.done_at = "done", at
    stage.save()
    following = piece.stages.filter(position__gt=stage.position).first()
    if following:
        following.state = "active"
        following.save(update_fields=["state"])
    else:
        piece.finished_at = at
    piece.begun_at = min(piece.begun_at, at)
    piece.save(update_fields=["finished_at", "begun_at"])
    _write(piece, "stage-done", STAGES[stage.kind].title, at=at, by=by, notes=stage.notes)
    return following


@transaction.atomic
def reopen_stage(piece: Piece, *, now: datetime, by: Any) -> Stage:
    """Take back the last stage marked done; its notes stay."""
    last = piece.stages.filter(state="done").order_by("-position").first()
    if last is None:
        raise Impossible("nothing-done", "stage", "Nothing has been marked done on this piece yet.")
    piece.stages.filter(state="active").update(state="waiting")
    last.state, last.done_at = "active", None
    last.save()
    piece.finished_at = None
    piece.save(update_fields=["finished_at"])
    _write(piece, "taken-back", STAGES[last.kind].title, at=now, by=by)
    return last


@transaction.atomic
def give_coat(stage: Stage, *, at: datetime, now: datetime, by: Any) -> Coat:
    """Note the next coat as given."""
    not_future(at, now=now, field="at")
    piece = stage.piece
    schedule = card_for("coat", CardAsk(facts_of(piece), bench_of(piece.workshop), stage.notes)).schedule
    given = list(stage.coats.all())
    if schedule is None or len(given) >= len(schedule.coats):
        raise Impossible("all-given", "coat", "All its coats are on.")
    if given and at < given[-1].given_at:
        raise Impossible("before-last-coat", "at", "The coat before it was given later than that.")
    coat = Coat(stage=stage, number=len(given) + 1, what=schedule.coats[len(given)].what, given_at=at)
    coat.full_clean()
    coat.save()
    _write(piece, "coat", coat.what, at=at, by=by, number=coat.number)
    return coat


@transaction.atomic
def take_back_coat(stage: Stage, *, now: datetime, by: Any) -> None:
    """Take back the last coat noted."""
    last = stage.coats.order_by("-number").first()
    if last is None:
        raise Impossible("no-coat", "coat", "No coat has been noted yet.")
    _write(stage.piece, "coat-taken-back", last.what, at=now, by=by, number=last.number)
    last.delete()
