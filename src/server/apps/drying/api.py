"""The drying floor, weigh-ins and moves over HTTP."""

from dataclasses import asdict
from datetime import datetime, timedelta
from typing import Any

from django.http import HttpRequest, JsonResponse
from django.utils import timezone
from ninja import Path, Query, Router, Status

from kilncore.drying.model import WRAPS
from kilncore.rules.hold import FORMS
from kilncore.wood.emc import emc_pct
from kilncore.wood.species import all_species
from server.api.problems import PROBLEMS
from server.apps.drying import schemas, services
from server.apps.drying.forecasts import engine_piece, lived_of, open_runs, refresh, target_mc_pct
from server.apps.drying.models import DryingRun, WeighIn
from server.apps.drying.queries import FloorRow, floor, floor_row, open_run, stale_tags, weigh_in_of
from server.apps.shop.models import Workshop
from server.apps.shop.queries import place_of, workshop_of

router = Router(tags=["drying"])
TagPath = Path(..., max_length=40)
IdPath = Path(..., ge=1, le=2**53)


def floor_dict(row: FloorRow, target: float) -> dict[str, Any]:
    """Return a floor row as it is sent: the fields of ``FloorOut``, unchecked for speed."""
    run, piece = row.run, row.run.piece
    data = row.forecast.data if row.forecast else {}
    return {
        "tag": piece.tag,
        "name": piece.name,
        "species_name": all_species()[piece.species].common,
        "form": piece.form,
        "family": FORMS[piece.form].family,
        "diameter_mm": piece.diameter_mm,
        "height_mm": piece.height_mm,
        "started_at": run.started_at.isoformat(),
        "place": row.place,
        "wrap": row.wrap,
        "ends_sealed": row.ends_sealed,
        "settles_at_pct": data.get("settles_at_pct"),
        "target_mc_pct": target,
        "now": None if row.now is None else asdict(row.now),
        "ready": row.ready,
        **{f"ready_{end}": row.iso("ready", end) for end in ("low", "middle", "high")},
        **{f"settled_{end}": row.iso("settled", end) for end in ("low", "middle", "high")},
        "never_pct": row.reached.never_pct if row.reached else 0.0,
        "weigh_at": row.weigh_at.isoformat() if row.weigh_at else None,
        "last_g": row.last_g,
        "last_at": row.last_at.isoformat() if row.last_at else None,
        "weighings": data.get("weighings", 0),
        "questioned": row.questioned,
        "stale": row.stale,
        "warnings": row.warnings,
        "step_at": row.step_at.isoformat() if row.step_at else None,
        "step_words": row.step_words,
    }


def _weigh_in_out(row: WeighIn, tag: str) -> schemas.WeighInOut:
    return schemas.WeighInOut(
        id=row.id,
        tag=tag,
        at=row.at,
        mass_g=row.mass_g,
        typed=row.typed,
        state=row.state,
        question=row.question,
        corrects_id=row.corrects_id,
    )


def _loss_measured(run: DryingRun) -> float | None:
    """Loss a week between the last two weights that are at least two days apart."""
    counted = [w for w in run.weigh_ins.all() if w.state == "accepted"]
    for before in reversed(counted[:-1]):
        days = (counted[-1].at - before.at).total_seconds() / 86400.0
        if days >= 2.0:
            return round(100.0 * (before.mass_g - counted[-1].mass_g) / before.mass_g / days * 7.0, 3)
    return None


def drying_out(workshop: Workshop, tag: str, now: datetime) -> schemas.DryingOut:
    """Return one piece's drying in full, corrected weights included."""
    run = open_run(workshop, tag)
    target = target_mc_pct(workshop)
    row = floor_row(run, target=target, now=now)
    data = row.forecast.data if row.forecast else None
    return schemas.DryingOut(
        row=schemas.FloorOut(**floor_dict(row, target)),
        curve=data["curve"] if data else None,
        stays=[
            schemas.StayOut(
                place=s.place.name,
                wrap=s.wrap,
                wrap_label=WRAPS[s.wrap].label,
                ends_sealed=s.ends_sealed,
                started_at=s.started_at,
                air_c=s.place.air_c,
                rh_pct=s.place.rh_pct,
                emc_pct=round(emc_pct(s.place.air_c, rh_pct=s.place.rh_pct), 1),
            )
            for s in run.stays.all()
        ],
        air=_air(run, now),
        species=run.piece.species,
        weigh_ins=[_weigh_in_out(w, run.piece.tag) for w in WeighIn.objects.filter(run=run)],
        dry_mass_g=data["dry_mass_g"]["middle"] if data else None,
        rate_factor=data["rate_factor"] if data else None,
        loss_rule_pct=workshop.stop_loss_per_week_pct,
        loss_measured_pct=(loss := _loss_measured(run)),
        loss_met=None if loss is None else loss <= workshop.stop_loss_per_week_pct,
        meter=[schemas.MeterOut.from_orm(m) for m in run.meter_readings.all()],
        goes=[schemas.GoOut.from_orm(g) for g in run.goes.all()],
        turnings=[schemas.TurnedOut.from_orm(t) for t in run.turnings.all()],
        steps=[schemas.StepOut.from_orm(s) for s in run.steps.all()],
        control=_control(run),
        wall_mm=(engine := engine_piece(run)).wall_mm,
        bottom_mm=engine.foot_mm,
    )


def _air(run: DryingRun, now: datetime) -> list[schemas.AirStep]:
    """Where it would settle in the air it lay and will lie in, for a year to come."""
    ahead = max((now - run.started_at).total_seconds() / 86400.0, 0.0) + 365.0
    return [
        schemas.AirStep(
            start=run.started_at + timedelta(days=t.start_days),
            emc_pct=round(emc_pct(t.air_c, rh_pct=t.rh_pct), 2),
        )
        for t in lived_of(run, until_days=ahead).treatments
    ]


def _shares(run: DryingRun) -> tuple[list[float], list[float]]:
    """Its weights as shares of the first, by days since its drying began."""
    counted = [w for w in run.weigh_ins.all() if w.state == "accepted"]
    days = [round((w.at - run.started_at).total_seconds() / 86400.0, 3) for w in counted]
    return days, [round(100.0 * w.mass_g / counted[0].mass_g, 2) for w in counted]


def _control(run: DryingRun) -> schemas.ControlOut | None:
    """The piece set beside this one, whichever of the two is the control."""
    other = run.controls.first() or run.control_of
    if other is None:
        return None
    days, share = _shares(other)
    own_days, own_share = _shares(run)
    stay = other.stays.last()
    return schemas.ControlOut(
        tag=other.piece.tag, name=other.piece.name, wrap=stay.wrap if stay else "", days=days, share_pct=share,
        own_days=own_days, own_share_pct=own_share,
    )  # fmt: skip


@router.get(
    "", response={200: list[schemas.FloorOut], **PROBLEMS}, operation_id="floor", summary="The drying floor"
)
def drying_floor(request: HttpRequest):
    """Every drying piece, from stored forecasts; stale ones say so."""
    workshop = workshop_of(request)
    target = target_mc_pct(workshop)
    # Sent as built: checking hundreds of rows against the schema again would double the time.
    return JsonResponse([floor_dict(row, target) for row in floor(workshop, now=timezone.now())], safe=False)


@router.post(
    "/refresh",
    response={200: schemas.Refreshed, **PROBLEMS},
    operation_id="refresh_forecasts",
    summary="Bring forecasts up to date",
)
def refresh_forecasts(request: HttpRequest, data: schemas.RefreshIn):
    """Compute a few stale forecasts; call again while some wait."""
    workshop, now = workshop_of(request), timezone.now()
    stale = stale_tags(workshop, data.tags)
    runs = open_runs(workshop).filter(piece__tag__in=stale[: data.most])
    refresh(runs, now=now)
    done = min(len(stale), data.most)
    return schemas.Refreshed(computed=done, waiting=len(stale) - done)


@router.get(
    "/expected",
    response={200: schemas.ExpectedOut, **PROBLEMS},
    operation_id="expected",
    summary="What a tag should weigh",
)
def expected(request: HttpRequest, tag: str = Query(..., max_length=40)):
    """Return the expected range of a drying piece."""
    run = open_run(workshop_of(request), tag)
    guess, _ = services.expected_weight(run, timezone.now())
    last = floor_row(run, target=target_mc_pct(run.piece.workshop), now=timezone.now())
    return schemas.ExpectedOut(
        tag=run.piece.tag,
        name=run.piece.name,
        species_name=all_species()[run.piece.species].common,
        low_g=max(0.0, guess.mass_g - 2 * guess.sd_g),
        mass_g=guess.mass_g,
        high_g=guess.mass_g + 2 * guess.sd_g,
        last_g=last.last_g,
        last_at=last.last_at,
    )


@router.post(
    "/weigh-ins", response={200: schemas.WeighInOut, **PROBLEMS}, operation_id="weigh", summary="A weight"
)
def weigh(request: HttpRequest, data: schemas.WeighInNew):
    """Store a weight once; an odd one is kept and questioned."""
    workshop, now = workshop_of(request), timezone.now()
    run = open_run(workshop, data.tag)
    row = services.weigh(
        workshop,
        run,
        key=data.key,
        mass_g=data.mass_g,
        at=data.at or now,
        now=now,
        typed=data.typed,
        by=request.user,
    )
    return _weigh_in_out(row, row.run.piece.tag)


@router.post(
    "/weigh-ins/{weigh_in_id}/accept",
    response={200: schemas.WeighInOut, **PROBLEMS},
    operation_id="accept_weight",
    summary="It is right",
)
def accept_weight(request: HttpRequest, weigh_in_id: int = IdPath):
    """Let a questioned weight count."""
    row = services.accept_weight(weigh_in_of(workshop_of(request), weigh_in_id))
    return _weigh_in_out(row, row.run.piece.tag)


@router.post(
    "/weigh-ins/{weigh_in_id}/correct",
    response={200: schemas.WeighInOut, **PROBLEMS},
    operation_id="correct_weight",
    summary="The right figure",
)
def correct_weight(request: HttpRequest, data: schemas.WeighInCorrection, weigh_in_id: int = IdPath):
    """Replace a weight; the old figure stays visible."""
    workshop = workshop_of(request)
    row = weigh_in_of(workshop, weigh_in_id)
    run = open_run(workshop, data.tag) if data.tag else None
    new = services.correct_weight(
        row, key=data.key, mass_g=data.mass_g, typed=data.typed, run=run, by=request.user
    )
    return _weigh_in_out(new, new.run.piece.tag)


@router.get(
    "/{tag}",
    response={200: schemas.DryingOut, **PROBLEMS},
    operation_id="drying",
    summary="One piece's drying",
)
def drying(request: HttpRequest, tag: str = TagPath):
    """Return curve, weights and places of one piece."""
    return drying_out(workshop_of(request), tag, timezone.now())


@router.post(
    "/{tag}/stays",
    response={201: schemas.DryingOut, **PROBLEMS},
    operation_id="move",
    summary="Put it elsewhere",
)
def move(request: HttpRequest, data: schemas.MoveIn, tag: str = TagPath):
    """Note where it lies from now on, and in what."""
    workshop, now = workshop_of(request), timezone.now()
    run = open_run(workshop, tag)
    services.move(
        run,
        place=place_of(workshop, data.place_id),
        wrap=data.wrap,
        ends_sealed=data.ends_sealed,
        at=data.at or now,
        now=now,
        by=request.user,
    )
    return Status(201, drying_out(workshop, tag, now))
