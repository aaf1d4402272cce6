"""Work cards, marking stages done, the record and the reckoner over HTTP."""

from datetime import datetime, timedelta
from typing import Annotated, Any, Literal

from django.http import HttpRequest
from django.utils import timezone
from ninja import Path, Router, Schema
from pydantic import Field

from kilncore.errors import Impossible
from kilncore.route.card import Card, CardAsk
from kilncore.route.planner import STAGES
from kilncore.route.stages import care_note
from kilncore.rules.speed import (
    CONDITIONS,
    SPEED_STAGES,
    RimSpeed,
    SpeedAsk,
    balance_grade,
    offset_from_counterweight_mm,
    speed_band,
    surface_speeds,
)
from kilncore.said import Figure, Sentence
from kilncore.sources import Source, all_sources
from server.api.problems import PROBLEMS
from server.api.shapes import Input, Length, Line, When
from server.apps.bench import services
from server.apps.drying.api import WeighIn
from server.apps.drying.api import schemas as drying_schemas
from server.apps.drying.models import Stay
from server.apps.lathe.api import speed_out
from server.apps.lathe.schemas import SpeedOut
from server.apps.lathe.services import last_speeds
from server.apps.pieces.api import piece_out
from server.apps.pieces.models import Piece
from server.apps.pieces.queries import facts_of, piece_of, stage_of
from server.apps.pieces.schemas import EventOut, PieceOut
from server.apps.pieces.services import keep_notes
from server.apps.shop.queries import bench_of, lathe_of, workshop_of

router = Router(tags=["bench"])
TagPath = Path(..., max_length=40)
KindPath = Path(..., max_length=40)

Value = Annotated[Length, Field(strict=True)] | Line
NoteMap = Annotated[dict[Annotated[str, Field(max_length=40)], Value], Field(max_length=30)]


# Kind of work at the lathe a stage's speeds are looked up by.
LIKE = {
    "rough": "rough", "turn": "finish", "turn-green": "finish", "turn-dry": "finish", "sand": "sand", "foot": "foot",
}  # fmt: skip


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
    speeds: list[SpeedOut] = []


class ReckonIn(Input):
    """A bare question about speed."""

    swing_mm: Length
    stage: Literal["rough", "true", "finish", "sand", "buff", "foot", "part", "bore"] = "rough"
    conditions: Annotated[list[Literal["barky", "cracked", "punky", "winged"]], Field(max_length=4)] = []
    tailstock: bool = True
    length_mm: Length | None = None
    rated_rpm: Length | None = None
    mass_kg: Length | None = None
    offset_mm: Length | None = None
    weight_g: Length | None = None
    radius_mm: Length | None = None
    lathe_id: Annotated[int, Field(ge=1, le=2**53)] | None = None


class LatheChoice(Schema):
    """A lathe that may be chosen, the main one first."""

    id: int
    name: str


class BalanceOut(Schema):
    """How far the work's centre of gravity runs off the axis, and the grade that is at the band's top."""

    offset_mm: float
    e_omega: float
    grade: float


class ReckonOut(Schema):
    """The speed band, what may be asked, the surface's speed, balance, and what was used last time."""

    speed: Figure
    stages: dict[str, str]
    conditions: dict[str, str]
    surface: list[RimSpeed]
    balance: BalanceOut | None
    last: list[SpeedOut]
    lathes: list[LatheChoice]


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
    """Return a stage's card from what is kept, with the speeds used for like work before."""
    piece = piece_of(workshop_of(request), tag)
    stage = stage_of(piece, kind)
    found = _card_out(services.card_of(piece, kind), stage)
    if kind in LIKE:
        rows = last_speeds(piece.workshop, stage=LIKE[kind], swing_mm=piece.diameter_mm, most=3)
        found.speeds = [speed_out(r) for r in rows]
    return found


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
    workshop = workshop_of(request)
    lathe = lathe_of(workshop, data.lathe_id)
    offset = _offset(data)
    ask = SpeedAsk(
        swing_mm=data.swing_mm,
        stage=data.stage,
        conditions=tuple(data.conditions),
        tailstock=data.tailstock,
        length_mm=data.length_mm,
        rated_rpm=data.rated_rpm,
        mass_kg=data.mass_kg,
        offset_mm=offset,
    )
    band = speed_band(ask, lathe=lathe)
    low, high = band.low or 0.0, band.high or 0.0
    balance = None
    if offset is not None:
        product, grade = balance_grade(offset, speed_rpm=high)
        balance = BalanceOut(offset_mm=offset, e_omega=product, grade=grade)
    return ReckonOut(
        speed=band,
        stages={s.key: s.label for s in SPEED_STAGES.values()},
        conditions={key: label for key, (label, _) in CONDITIONS.items()},
        surface=list(surface_speeds(data.swing_mm, low_rpm=low, high_rpm=high, power_w=lathe.power_w)),
        balance=balance,
        last=[speed_out(r) for r in last_speeds(workshop, stage=data.stage, swing_mm=data.swing_mm)],
        lathes=[LatheChoice(id=row.id, name=row.name) for row in workshop.lathes.all()],
    )


def _offset(data: ReckonIn) -> float | None:
    """The offset as given, or from the weight that balanced it."""
    if data.offset_mm is not None:
        return data.offset_mm if data.offset_mm > 0.0 else None
    if data.weight_g is None and data.radius_mm is None:
        return None
    for name, value in (
        ("weight_g", data.weight_g),
        ("radius_mm", data.radius_mm),
        ("mass_kg", data.mass_kg),
    ):
        if value is None:
            text = "Weight hung on, where it hung, and the weight of the work: all three give the offset."
            raise Impossible("missing", name, text)
    return offset_from_counterweight_mm(data.weight_g, radius_mm=data.radius_mm, mass_kg=data.mass_kg)


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
