"""Today over HTTP."""

from dataclasses import asdict
from datetime import datetime
from typing import Any

from django.http import HttpRequest, JsonResponse
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


def _need_dict(need: Need) -> dict[str, Any]:
    row = need.row
    data = row.forecast.data if row and row.forecast else {}
    return {
        "group": need.group,
        "piece": row_of(need.piece, kind="dry" if row else None),
        "why": asdict(need.why),
        "action": need.action,
        "mc_pct": row.now.mc_pct if row and row.now else None,
        "target_mc_pct": row.target_mc_pct if row else None,
        "settles_at_pct": data.get("settles_at_pct"),
        "ready_middle": row.iso("ready", "middle") if row else None,
        "stale": bool(row and row.stale),
    }


@router.get("", response={200: TodayOut, **PROBLEMS}, operation_id="today", summary="What is due")
def today(request: HttpRequest):
    """Return what the yard asks for now."""
    now = timezone.now()
    day = needs(workshop_of(request), now=now)
    # Sent as built, like the floor: hundreds of rows are not checked against the schema again.
    return JsonResponse({"rows": [_need_dict(n) for n in day.needs], "strip": _strip(day.floor, now)})


def _strip(floor: list[FloorRow], now: datetime) -> list[dict[str, Any]]:
    marks = []
    for row in floor:
        ready = row.moment("ready", "middle")
        days = None if ready is None else round((ready - now).total_seconds() / 86400.0, 1)
        marks.append({"tag": row.run.piece.tag, "days": days})
    return marks
