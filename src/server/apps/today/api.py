"""Today over HTTP."""

from datetime import datetime

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from kilncore.said import Sentence
from server.api.problems import PROBLEMS
from server.apps.drying.queries import FloorRow
from server.apps.pieces.api import row_of
from server.apps.pieces.schemas import PieceRow
from server.apps.shop.queries import workshop_of
from server.apps.today.queries import Need, needs

router = Router(tags=["today"])


class StripMark(Schema):
    """One drying piece on the strip."""

    tag: str
    days: float | None


class NeedOut(Schema):
    """One row of the day's list."""

    group: str
    piece: PieceRow
    why: Sentence
    action: str
    mc_pct: float | None
    target_mc_pct: float | None
    settles_at_pct: float | None
    ready_middle: datetime | None
    stale: bool


class TodayOut(Schema):
    """The day's list and the floor as a strip of time to ready."""

    rows: list[NeedOut]
    strip: list[StripMark]


def _need_out(need: Need) -> NeedOut:
    row = need.row
    data = row.forecast.data if row and row.forecast else {}
    return NeedOut(
        group=need.group,
        piece=PieceRow(**row_of(need.piece)),
        why=need.why,
        action=need.action,
        mc_pct=row.now.mc_pct if row and row.now else None,
        target_mc_pct=data.get("target_mc_pct"),
        settles_at_pct=data.get("settles_at_pct"),
        ready_middle=row.moment("ready_days", "middle") if row else None,
        stale=bool(row and row.stale),
    )


@router.get("", response={200: TodayOut, **PROBLEMS}, operation_id="today", summary="What is due")
def today(request: HttpRequest):
    """Return what the yard asks for now."""
    now = timezone.now()
    day = needs(workshop_of(request), now=now)
    return TodayOut(rows=[_need_out(n) for n in day.needs], strip=_strip(day.floor, now))


def _strip(floor: list[FloorRow], now: datetime) -> list[StripMark]:
    marks = []
    for row in floor:
        ready = row.moment("ready_days", "middle")
        days = None if ready is None else round((ready - now).total_seconds() / 86400.0, 1)
        marks.append(StripMark(tag=row.run.piece.tag, days=days))
    return marks
