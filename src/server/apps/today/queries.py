"""What the yard asks for now, in order of need."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from kilncore.bench import Bench
from kilncore.drying.forecast import next_weighing_days
from kilncore.errors import CoreError
from kilncore.route.card import CardAsk
from kilncore.route.planner import STAGES
from kilncore.route.stages import coat_schedule
from kilncore.said import Sentence, say
from server.apps.drying.queries import FloorRow, floor
from server.apps.pieces.models import Piece, Stage
from server.apps.pieces.queries import active_stage, facts_of
from server.apps.shop.models import Workshop
from server.apps.shop.queries import bench_of

__all__ = ["GROUPS", "Day", "Need", "needs"]

GROUPS = ("look", "weigh", "turn", "coat", "soon")
SOON_DAYS = 21


@dataclass(frozen=True, slots=True)
class Need:
    """One row: which piece, why, since when, and what to do about it."""

    group: str
    piece: Piece
    why: Sentence
    action: str
    order: float
    row: FloorRow | None = None


@dataclass(frozen=True, slots=True)
class Day:
    """What is due, most needed first, and the whole drying floor."""

    needs: list[Need]
    floor: list[FloorRow]


def needs(workshop: Workshop, *, now: datetime) -> Day:
    """Return everything due, most needed first within each group."""
    drying = floor(workshop, now=now)
    rows = {row.run.piece_id: row for row in drying}
    found: list[Need] = [need for row in rows.values() for need in (*_step(row, now), *_drying(row, now))]
    working = workshop.pieces.filter(finished_at__isnull=True).exclude(id__in=rows)
    bench = bench_of(workshop)
    for piece in working.prefetch_related("stages__coats"):
        stage = active_stage(piece)
        if stage is None:
            continue
        if stage.kind == "coat":
            found.append(_coat(piece, stage, now, bench))
        else:
            found.append(_turn(piece, stage, now))
    return Day(sorted(found, key=lambda n: (GROUPS.index(n.group), n.order)), drying)


def _step(row: FloorRow, now: datetime) -> list[Need]:
    """What the way it was put on asks for, once it is due."""
    if row.step_at is None or row.step_at > now or row.step_words is None:
        return []
    words = Sentence(row.step_words["code"], row.step_words["template"], row.step_words["params"])
    return [Need("look", row.run.piece, words, "drying", -0.5, row)]


def _drying(row: FloorRow, now: datetime) -> list[Need]:
    piece = row.run.piece
    if row.questioned_g is not None:
        text = "{mass_g} was noted and does not fit. Answer before it counts."
        return [Need("look", piece, say("questioned", text, mass_g=row.questioned_g), "drying", 0.0, row)]
    if row.now is None:
        return [
            Need("soon", piece, say("no-forecast", "Its forecast is being worked out."), "drying", 0.0, row)
        ]
    if row.now.risk_level != "ok":
        return [Need("look", piece, _fast(row), "drying", -row.now.risk_peak, row)]
    if row.now.mould_level == "stop" and row.wrap in ("plastic-loose", "tight-film", "paper-bag", "waxed"):
        return [Need("look", piece, _mouldy(row), "drying", -0.4, row)]
    if row.ready:
        text = "Ready: {mc_pct} inside, {target_mc_pct} was wanted."
        why = say(
            "ready",
            text,
            mc_pct=row.now.mc_pct,
            target_mc_pct=row.target_mc_pct,
        )
        return [Need("turn", piece, why, "bench", 0.0, row)]
    if row.weigh_at is not None and row.weigh_at <= now:
        return [_weigh(row, now)]
    return _soon(row, now)


def _fast(row: FloorRow) -> Sentence:
    assert row.now is not None
    helps = (
        "put it in a paper bag, wax the end grain."
        if row.wrap in ("open-shelf", "outdoors", "fan-box")
        else "wax the end grain, find it damper air."
    )
    return say(
        "drying-fast",
        "Dries too fast: check index {risk} now, {peak} to come (1 checks). " + helps.capitalize(),
        risk=row.now.risk,
        peak=row.now.risk_peak,
    )


def _mouldy(row: FloorRow) -> Sentence:
    assert row.now is not None
    return say(
        "mould",
        "Damp for so long that it moulds within weeks (dose {dose}, 8 is mouldy). Open it, wipe it, let it dry "
        "in moving air.",
        dose=row.now.mould_ahead,
    )


def _weigh(row: FloorRow, now: datetime) -> Need:
    assert row.now is not None and row.weigh_at is not None
    late = (now - row.weigh_at).total_seconds() / 86400.0
    if row.forecast is None or row.forecast.data["weighings"] == 0:
        why = say("never-weighed", "Never weighed: its first weight tells most.")
    else:
        why = say(
            "weigh-due",
            "Due {late_days} ago; about {mass_g} expected, losing {loss_per_week_pct}."
            if late >= 1.0
            else "Due today; about {mass_g} expected, losing {loss_per_week_pct}.",
            late_days=round(late),
            mass_g=row.now.mass_g,
            loss_per_week_pct=row.now.loss_per_week_pct,
        )
    return Need(
        "weigh", row.run.piece, why, "weigh", -late / next_weighing_days(row.now.loss_per_week_pct), row
    )


def _soon(row: FloorRow, now: datetime) -> list[Need]:
    ready = row.moment("ready", "middle")
    if ready is None or ready > now + timedelta(days=SOON_DAYS) or row.now is None:
        return []
    days = max((ready - now).total_seconds() / 86400.0, 0.0)
    why = say(
        "nearly",
        "Ready in about {left_days}; {mc_pct} inside now.",
        left_days=round(days),
        mc_pct=row.now.mc_pct,
    )
    return [Need("soon", row.run.piece, why, "drying", days, row)]


def _turn(piece: Piece, stage: Stage, now: datetime) -> Need:
    kind = STAGES[stage.kind]
    waited = (now - piece.begun_at).total_seconds() / 86400.0
    if stage.position == 0 and piece.state == "green":
        text = "Green blank, {waited_days} in the yard: " + kind.due + " before it checks."
        return Need(
            "turn", piece, say("blank-waits", text, waited_days=round(waited)), "bench", -waited, None
        )
    return Need("turn", piece, say(f"to-{kind.key}", kind.due.capitalize() + " next."), "bench", 1.0, None)


def _coat(piece: Piece, stage: Stage, now: datetime, bench: Bench) -> Need:
    given = list(stage.coats.all())
    try:
        schedule = coat_schedule(CardAsk(facts_of(piece), bench, stage.notes))
    except CoreError as error:
        return Need("look", piece, Sentence(error.code, error.template, error.params), "bench", 1.0)
    if len(given) >= len(schedule.coats):
        return Need("turn", piece, say("coats-on", "All coats are on: mark the finish done."), "bench", 2.0)
    following = schedule.coats[len(given)]
    if not given:
        why = say("first-coat", "First coat: {what}.", what=following.what)
        return Need("coat", piece, why, "bench", 0.0)
    due = given[-1].given_at + timedelta(hours=following.wait_hours)
    hours = (now - due).total_seconds() / 3600.0
    if hours >= 0.0:
        text = "Coat {number}, {what}: due {late_hours} ago."
        why = say(
            "coat-due", text, number=str(following.number), what=following.what, late_hours=round(hours, 1)
        )
        return Need("coat", piece, why, "bench", -hours)
    text = "Coat {number}, {what}, in {left_hours}."
    why = say(
        "coat-soon", text, number=str(following.number), what=following.what, left_hours=round(-hours, 1)
    )
    return Need("soon", piece, why, "bench", -hours / 24.0)
