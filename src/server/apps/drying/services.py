"""Changing what dries: starting, moving, weighing, correcting."""

import math
from collections.abc import Iterable
from dataclasses import asdict
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction

from kilncore.drying.forecast import read_now
from kilncore.drying.model import WRAPS
from kilncore.drying.weighing import Expected, Question, question_weight
from kilncore.errors import CoreError, Impossible, Unknown, require_range
from server.apps.drying.forecasts import curve_of, days_since, engine_piece, light_runs, stored
from server.apps.drying.models import DryingRun, Stay, WeighIn
from server.apps.pieces.models import Event, Piece
from server.apps.pieces.services import not_future
from server.apps.shop.models import Place, Workshop

__all__ = [
    "accept_weight",
    "bulk_move",
    "correct_weight",
    "end_run",
    "expected_weight",
    "mend_sizes",
    "move",
    "question_of",
    "start_run",
    "weigh",
]

# Moving it again this soon mends the first choice instead of adding a second.
MEND_HOURS = 6


@transaction.atomic
def start_run(
    piece: Piece,
    *,
    at: datetime,
    place: Place,
    wrap: str = "open-shelf",
    ends_sealed: bool = False,
    by: Any = None,
    mass_g: float | None = None,
    key: UUID | None = None,
    brings: dict[str, Any] | None = None,
    **sizes: float | None,
) -> DryingRun:
    """Begin drying with the sizes measured; a first weight may come along."""
    run = DryingRun(piece=piece, started_at=at, brings=brings or {}, **sizes)
    engine_piece(run)  # impossible sizes speak up before anything is stored
    run.full_clean(exclude=["brings"])
    run.save()
    Stay.objects.create(run=run, place=place, wrap=wrap, ends_sealed=ends_sealed, started_at=at)
    if mass_g is not None and key is not None:
        WeighIn.objects.create(
            workshop=piece.workshop, run=run, key=key, at=at, mass_g=mass_g, typed="at the lathe", by=by
        )
    return run


@transaction.atomic
def mend_sizes(run: DryingRun, *, changes: dict[str, float], now: datetime, by: Any) -> DryingRun:
    """Mend the sizes a drying began with."""
    before = {name: getattr(run, name) for name in changes}
    for name, value in changes.items():
        setattr(run, name, value)
    engine_piece(run)  # impossible sizes speak up before anything is stored
    run.save(update_fields=list(changes))
    Event.objects.create(
        piece=run.piece, at=now, verb="sizes-mended", words=", ".join(changes), by=by,
        data={"before": before, "after": changes},
    )  # fmt: skip
    return run


@transaction.atomic
def end_run(run: DryingRun, *, at: datetime) -> None:
    """End drying."""
    run.ended_at = max(at, run.started_at)
    run.save(update_fields=["ended_at"])


@transaction.atomic
def move(
    run: DryingRun, *, place: Place, wrap: str, ends_sealed: bool, at: datetime, now: datetime, by: Any
) -> Stay:
    """Put it somewhere else, or in something else, from a moment on."""
    not_future(at, now=now, field="at")
    if wrap not in WRAPS:
        raise Unknown("wrap", wrap, list(WRAPS))
    last = run.stays.last()
    if last is not None and at < last.started_at - timedelta(hours=MEND_HOURS):
        raise Impossible("before-last-move", "at", "It was moved later than that already.")
    if last is not None and at - last.started_at < timedelta(hours=MEND_HOURS):
        stay = last
    else:
        stay = Stay(run=run, started_at=at)
    stay.place, stay.wrap, stay.ends_sealed = place, wrap, ends_sealed
    stay.full_clean()
    stay.save()
    words = f"{WRAPS[wrap].label}, {place.name}" + (", ends sealed" if ends_sealed else "")
    Event.objects.create(piece=run.piece, at=at, verb="moved", words=words, by=by)
    return stay


@transaction.atomic
def bulk_move(
    runs: Iterable[DryingRun],
    *,
    place: Place | None,
    wrap: str | None,
    ends_sealed: bool | None,
    at: datetime,
    now: datetime,
    by: Any,
) -> int:
    """Move many, or change how they are kept; what is not given stays as it is. All or none."""
    moved = 0
    for run in runs:
        last = run.stays.last()
        if last is None:
            continue
        try:
            move(
                run,
                place=place or last.place,
                wrap=wrap or last.wrap,
                ends_sealed=last.ends_sealed if ends_sealed is None else ends_sealed,
                at=at,
                now=now,
                by=by,
            )
        except CoreError as error:
            error.template = f"{run.piece.tag}: {error.template}"
            raise
        moved += 1
    return moved


def expected_weight(run: DryingRun, at: datetime) -> tuple[Expected, float | None]:
    """Return what it should weigh then, and the low end of its dry mass.

    Read off the stored forecast, even one weight old; from sizes and species when
    there is none yet.
    """
    row = stored(run)
    if row is None:
        engine = engine_piece(run)
        green = engine.green_mc_pct
        mass = engine.dry_mass_g * (1 + green.typical / 100)
        spread = math.hypot(engine.dry_mass_sd, (green.high - green.low) / 260.0)
        return Expected(run.piece.tag, mass, mass * spread), None
    now = read_now(curve_of(row), days_since(run, at))
    return Expected(run.piece.tag, now.mass_g, now.mass_sd_g), row.data["dry_mass_g"]["low"]


def question_of(run: DryingRun, workshop: Workshop, mass_g: float, at: datetime) -> Question | None:
    """Return what to ask about a weight, None when it is believable."""
    expected, dry_low = expected_weight(run, at)
    counted = [w for w in run.weigh_ins.all() if w.state == "accepted" and w.at <= at]
    last = counted[-1].mass_g if counted else None
    asked = question_weight(mass_g, expected=expected, last_g=last, dry_low_g=dry_low)
    if asked is None:
        return None
    others = tuple(expected_weight(o, at)[0] for o in light_runs(workshop) if o.id != run.id and o.forecast)
    return question_weight(mass_g, expected=expected, last_g=last, dry_low_g=dry_low, others=others)


@transaction.atomic
def weigh(
    workshop: Workshop,
    run: DryingRun,
    *,
    key: UUID,
    mass_g: float,
    at: datetime,
    now: datetime,
    typed: str = "",
    by: Any = None,
) -> WeighIn:
    """Store a weight once; odd ones are kept but wait for an answer.

    The same key again returns what is already stored.
    """
    before = WeighIn.objects.filter(workshop=workshop, key=key).first()
    if before is not None:
        return before
    require_range("mass_g", mass_g, 0.1, 200_000.0, "A weight is a positive number.")
    not_future(at, now=now, field="at")
    if at < run.started_at:
        raise Impossible("before-drying", "at", "Drying began later than that.")
    asked = question_of(run, workshop, mass_g, at)
    row = WeighIn(
        workshop=workshop,
        run=run,
        key=key,
        at=at,
        mass_g=mass_g,
        typed=typed,
        by=by,
        state="questioned" if asked else "accepted",
        question=asdict(asked) if asked else {},
    )
    row.full_clean(exclude=["question"])
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError:  # the same key from another request at the same moment
        return WeighIn.objects.get(workshop=workshop, key=key)
    return row


@transaction.atomic
def accept_weight(row: WeighIn) -> WeighIn:
    """Let a questioned weight count as it is."""
    if row.state == "corrected":
        raise Impossible("replaced", "mass_g", "That weight has been replaced already.")
    row.state = "accepted"
    row.save(update_fields=["state"])
    return row


@transaction.atomic
def correct_weight(
    row: WeighIn, *, key: UUID, mass_g: float, typed: str, run: DryingRun | None = None, by: Any = None
) -> WeighIn:
    """Replace a weight by the right one; the old row stays and says so.

    ``run`` moves it to another piece (swapped tags). The turner has decided, so the
    new figure is not questioned again.
    """
    before = WeighIn.objects.filter(workshop=row.workshop, key=key).first()
    if before is not None:
        return before
    require_range("mass_g", mass_g, 0.1, 200_000.0, "A weight is a positive number.")
    if row.state == "corrected":
        raise Impossible("replaced", "mass_g", "That weight has been replaced already.")
    target = run or row.run
    if row.at < target.started_at:
        raise Impossible("before-drying", "tag", "That piece began drying later than this weight.")
    row.state = "corrected"
    row.save(update_fields=["state"])
    return WeighIn.objects.create(
        workshop=row.workshop, run=target, key=key, at=row.at, mass_g=mass_g, typed=typed, corrects=row, by=by
    )
