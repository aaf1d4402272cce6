"""Work cards, marking stages done, the record and the reckoner over HTTP."""

from datetime import datetime, timedelta
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Path, Router, Schema
from pydantic import Field

from kilncore.route.card import Card, CardAsk
from kilncore.route.planner import STAGES
from kilncore.route.stages import care_note
from kilncore.rules.speed import CONDITIONS, SPEED_STAGES, SpeedAsk, speed_band
from kilncore.said import Figure, Sentence
from kilncore.sources import Source, all_sources
from server.api.problems import PROBLEMS
from server.api.shapes import Input, Length, Line, When
from server.apps.bench import services
from server.apps.drying.api import WeighIn
from server.apps.drying.api import schemas as drying_schemas
from server.apps.drying.models import Stay
from server.apps.pieces.api import piece_out
from server.apps.pieces.models import Piece
from server.apps.pieces.queries import facts_of, piece_of, stage_of
from server.apps.pieces.schemas import EventOut, PieceOut
from server.apps.pieces.services import keep_notes
from server.apps.shop.queries import bench_of, workshop_of

router = Router(tags=["bench"])
TagPath = Path(..., max_length=40)
KindPath = Path(..., max_length=40)

Value = Annotated[Length, Field(strict=True)] | Line
NoteMap = Annotated[dict[Annotated[str, Field(max_length=40)], Value], Field(max_length=30)]


class Trial(Input):
    """Figures being tried on a card."""

    figures: NoteMap = {}


class Done(Input):
    """A stage done, with what was noted; now if no moment is given."""

    notes: NoteMap = {}
    at: When | None = None


class CoatTime(Schema):
    """A coat and when it is due."""

    number: int
    what: str
    due_at: datetime
    given_at: datetime | None


class CardOut(Schema):
    """A card, and the coats as dates where it has any."""

    card: Card
    coats: list[CoatTime]
    cured_at: datetime | None


class ReckonIn(Input):
    """A bare question about speed."""

    swing_mm: Length
    stage: Literal["rough", "true", "finish", "sand", "buff", "foot", "part", "bore"] = "rough"
    conditions: Annotated[list[Literal["barky", "cracked", "punky", "winged"]], Field(max_length=4)] = []
    tailstock: bool = True
    length_mm: Length | None = None
    rated_rpm: Length | None = None


class ReckonOut(Schema):
    """The speed band, and what may be asked."""

    speed: Figure
    stages: dict[str, str]
    conditions: dict[str, str]


class RecordStay(Schema):
    """Where it lay while drying."""

    place: str
    wrap: str
    started_at: datetime


class RecordOut(Schema):
    """A piece's life on one page."""

    piece: PieceOut
    events: list[EventOut]
    weigh_ins: list[drying_schemas.WeighInOut]
    stays: list[RecordStay]
    care: Sentence | None
    labels: dict[str, str]


def _card_out(card: Card, stage: Any) -> CardOut:
    if card.schedule is None:
        return CardOut(card=card, coats=[], cured_at=None)
    given = {c.number: c for c in stage.coats.all()}
    start = given[1].given_at if 1 in given else timezone.now()
    coats, previous = [], start
    for coat in card.schedule.coats:
        done = given.get(coat.number)
        due = previous + timedelta(hours=coat.wait_hours)
        previous = done.given_at if done else due
        coats.append(
            CoatTime(number=coat.number, what=coat.what, due_at=due, given_at=done.given_at if done else None)
        )
    after = card.schedule.cured_after_hours - card.schedule.coats[-1].after_hours
    return CardOut(card=card, coats=coats, cured_at=previous + timedelta(hours=after))


@router.get(
    "/{tag}/card/{kind}", response={200: CardOut, **PROBLEMS}, operation_id="card", summary="A work card"
)
def card(request: HttpRequest, tag: str = TagPath, kind: str = KindPath):
    """Return a stage's card from what is kept."""
    piece = piece_of(workshop_of(request), tag)
    stage = stage_of(piece, kind)
    return _card_out(services.card_of(piece, kind), stage)


@router.post(
    "/{tag}/card/{kind}/try",
    response={200: CardOut, **PROBLEMS},
    operation_id="try_card",
    summary="A work card with other figures",
)
def try_card(request: HttpRequest, data: Trial, tag: str = TagPath, kind: str = KindPath):
    """Return the card as it would be with other figures; nothing is kept."""
    piece = piece_of(workshop_of(request), tag)
    stage = stage_of(piece, kind)
    return _card_out(services.work_card(piece, kind, trial=data.figures), stage)


@router.put(
    "/{tag}/card/{kind}/notes",
    response={200: CardOut, **PROBLEMS},
    operation_id="keep_notes",
    summary="Keep notes",
)
def save_notes(request: HttpRequest, data: Trial, tag: str = TagPath, kind: str = KindPath):
    """Keep what was noted at a stage without marking it done."""
    workshop = workshop_of(request)
    stage = keep_notes(stage_of(piece_of(workshop, tag), kind), data.figures)
    return _card_out(services.card_of(piece_of(workshop, tag), kind), stage)


@router.post(
    "/{tag}/done/{kind}",
    response={200: PieceOut, **PROBLEMS},
    operation_id="done",
    summary="Mark a stage done",
)
def done(request: HttpRequest, data: Done, tag: str = TagPath, kind: str = KindPath):
    """Mark the stage in hand done; drying begins or ends with it."""
    workshop, now = workshop_of(request), timezone.now()
    stage = stage_of(piece_of(workshop, tag), kind)
    services.complete(stage, notes=data.notes, at=data.at or now, now=now, by=request.user)
    return piece_out(piece_of(workshop, tag))


@router.post(
    "/{tag}/take-back",
    response={200: PieceOut, **PROBLEMS},
    operation_id="take_back",
    summary="Take the last stage back",
)
def take_back(request: HttpRequest, tag: str = TagPath):
    """Undo the last stage marked done; its notes stay."""
    workshop = workshop_of(request)
    services.take_back(piece_of(workshop, tag), now=timezone.now(), by=request.user)
    return piece_out(piece_of(workshop, tag))


def _labels(piece: Piece) -> dict[str, str]:
    """What the figures noted at its stages are called, as on their cards."""
    cards = [services.card_of(piece, s.kind) for s in piece.stages.all() if s.state == "done"]
    return {f.name: f.label for card in cards for f in (*card.inputs, *card.notes)}


@router.get(
    "/{tag}/record", response={200: RecordOut, **PROBLEMS}, operation_id="record", summary="A piece's life"
)
def record(request: HttpRequest, tag: str = TagPath):
    """Return everything known of a piece for its record page."""
    piece = piece_of(workshop_of(request), tag)
    weights = WeighIn.objects.filter(run__piece=piece)
    stays = Stay.objects.filter(run__piece=piece).select_related("place")
    ask = CardAsk(facts_of(piece), bench_of(piece.workshop))
    return RecordOut(
        piece=piece_out(piece),
        events=[EventOut.from_orm(e) for e in piece.events.all()],
        weigh_ins=[
            drying_schemas.WeighInOut(
                id=w.id, tag=piece.tag, at=w.at, mass_g=w.mass_g, typed=w.typed,
                state=w.state, question=w.question, corrects_id=w.corrects_id,
            )
            for w in weights
        ],
        stays=[RecordStay(place=s.place.name, wrap=s.wrap, started_at=s.started_at) for s in stays],
        care=care_note(ask) if piece.finished_at else None,
        labels=_labels(piece),
    )  # fmt: skip


@router.post(
    "/reckon/speed",
    response={200: ReckonOut, **PROBLEMS},
    operation_id="reckon_speed",
    summary="Speed for a bare diameter",
)
def reckon_speed(request: HttpRequest, data: ReckonIn):
    """Return the speed band for a size, with no piece at all."""
    ask = SpeedAsk(
        swing_mm=data.swing_mm,
        stage=data.stage,
        conditions=tuple(data.conditions),
        tailstock=data.tailstock,
        length_mm=data.length_mm,
        rated_rpm=data.rated_rpm,
    )
    return ReckonOut(
        speed=speed_band(ask, lathe=bench_of(workshop_of(request)).lathe),
        stages={s.key: s.label for s in SPEED_STAGES.values()},
        conditions={key: label for key, (label, _) in CONDITIONS.items()},
    )


@router.get(
    "/sources",
    response={200: list[Source], **PROBLEMS},
    operation_id="sources",
    summary="Where figures come from",
)
def sources(request: HttpRequest):
    """Return every source the core cites."""
    return list(all_sources().values())


@router.get(
    "/stages", response={200: dict[str, str], **PROBLEMS}, operation_id="stage_titles", summary="Stage titles"
)
def stage_titles(request: HttpRequest):
    """Return the title of every kind of stage."""
    return {s.key: s.title for s in STAGES.values()}
