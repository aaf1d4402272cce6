"""What is done while a piece dries, ways of keeping it, tables and instruments, over HTTP."""

from dataclasses import asdict
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Path, Query, Router, Status

from kilncore.drying.climate import Air, BoxAir, box_air
from kilncore.drying.microwave import MicrowavePlan
from kilncore.errors import Impossible
from server.api.problems import PROBLEMS
from server.apps.drying import deeds, files, schemas, services
from server.apps.drying.api import drying_out
from server.apps.drying.forecasts import open_runs, target_mc_pct
from server.apps.drying.instruments import meter_now, scale_now
from server.apps.drying.models import DryingRun, Go, PlanStep
from server.apps.drying.queries import open_run
from server.apps.pieces.queries import piece_of
from server.apps.shop.queries import place_of, workshop_of

router = Router(tags=["drying"])
TagPath = Path(..., max_length=40)
IdPath = Path(..., ge=1, le=2**53)
SHOWN_ROWS = 200


@router.get(
    "/calendar.ics",
    response={200: str, **PROBLEMS},
    operation_id="calendar",
    summary="What is to come, as a calendar",
)
def calendar(request: HttpRequest):
    """Weighings, steps and likely ready dates as iCalendar."""
    text = files.calendar_of(workshop_of(request), now=timezone.now())
    return _file(text, "text/calendar; charset=utf-8", "yard-kiln.ics")


@router.get(
    "/weigh-ins.csv",
    response={200: str, **PROBLEMS},
    operation_id="weights_csv",
    summary="All weights as CSV",
)
def weights_csv(request: HttpRequest):
    """Every weight, corrected ones included."""
    return _file(files.weights_csv(workshop_of(request)), "text/csv; charset=utf-8", "weights.csv")


def _file(content: str | bytes, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


@router.post(
    "/weigh-ins/table",
    response={200: schemas.TableOut, **PROBLEMS},
    operation_id="import_weights",
    summary="Weights from a table",
)
def import_weights(request: HttpRequest, data: schemas.TableIn):
    """Look at a table of weights, or keep it: all rows or none."""
    found = files.import_weights(
        workshop_of(request), text=data.text, mapping=data.mapping, unit=data.unit, keep=data.keep,
        now=timezone.now(), by=request.user,
    )  # fmt: skip
    first = sorted(found.rows, key=lambda r: (r["fate"] != "wrong", r["fate"] != "questioned", r["line"]))
    return asdict(found) | {
        "rows": first[:SHOWN_ROWS],
        "more": max(0, len(first) - SHOWN_ROWS),
        "columns": [{"key": c.key, "label": c.label, "required": c.required} for c in files.WEIGHT_COLUMNS],
    }


@router.get("/scale", response={200: schemas.ScaleOut, **PROBLEMS}, operation_id="scale", summary="The scale")
def scale(request: HttpRequest):
    """Read the bench scale once, as long as it takes to stand still, two seconds at most."""
    return scale_now(workshop_of(request))


@router.get(
    "/meter",
    response={200: schemas.MeterShown, **PROBLEMS},
    operation_id="meter_now",
    summary="The moisture meter",
)
def read_meter(request: HttpRequest):
    """Read the moisture meter once."""
    return meter_now(workshop_of(request))


@router.get("/box", response={200: BoxAir, **PROBLEMS}, operation_id="box", summary="What air a box needs")
def box(
    request: HttpRequest,
    target_mc_pct: float = Query(...),
    box_c: float = Query(...),
    place_id: int = Query(..., ge=1, le=2**53),
):
    """What a box's humidity must be to reach a moisture."""
    place = place_of(workshop_of(request), place_id)
    return box_air(target_mc_pct, box_c=box_c, room=Air(place.air_c, place.rh_pct))


@router.post(
    "/bulk", response={200: schemas.BulkOut, **PROBLEMS}, operation_id="bulk_move", summary="Move many"
)
def bulk(request: HttpRequest, data: schemas.BulkIn):
    """Move many pieces, or change how they are kept; all or none."""
    workshop, now = workshop_of(request), timezone.now()
    runs = list(open_runs(workshop).filter(piece__tag__in=data.tags))
    if len(runs) != len(set(data.tags)):
        missing = sorted(set(data.tags) - {r.piece.tag for r in runs})
        raise Impossible("not-drying", "tags", "{tags} is not drying.", {"tags": ", ".join(missing[:5])})
    moved = services.bulk_move(
        runs, place=place_of(workshop, data.place_id) if data.place_id else None, wrap=data.wrap,
        ends_sealed=data.ends_sealed, at=data.at or now, now=now, by=request.user,
    )  # fmt: skip
    return {"moved": moved}


@router.post(
    "/steps/{step_id}/done",
    response={200: schemas.DryingOut, **PROBLEMS},
    operation_id="step_done",
    summary="A step of its way is done",
)
def step_done(request: HttpRequest, data: schemas.StepIn, step_id: int = IdPath):
    """Mark a step done, or leave it out."""
    workshop, now = workshop_of(request), timezone.now()
    step = get_object_or_404(
        PlanStep.objects.select_related("run__piece"), run__piece__workshop=workshop, id=step_id
    )
    deeds.step_done(step, skip=data.skip, now=now, by=request.user)
    return drying_out(workshop, step.run.piece.tag, now)


@router.post(
    "/{tag}/meter",
    response={201: schemas.DryingOut, **PROBLEMS},
    operation_id="meter",
    summary="The meter showed",
)
def meter(request: HttpRequest, data: schemas.MeterIn, tag: str = TagPath):
    """Keep what the moisture meter showed."""
    workshop, now = workshop_of(request), timezone.now()
    deeds.meter(
        open_run(workshop, tag), key=data.key, shown_pct=data.shown_pct, at=data.at or now, now=now,
        by=request.user, wood_c=data.wood_c, corrected=data.corrected,
    )  # fmt: skip
    return Status(201, drying_out(workshop, tag, now))


@router.get(
    "/{tag}/microwave",
    response={200: MicrowavePlan, **PROBLEMS},
    operation_id="microwave",
    summary="The next go in the oven",
)
def microwave(
    request: HttpRequest,
    tag: str = TagPath,
    power_w: float = Query(900.0),
    mass_g: float | None = Query(None),
    metal: bool = Query(False),
):
    """Return seconds, rest and whether to go on."""
    run = open_run(workshop_of(request), tag)
    return deeds.microwave(run, power_w=power_w, mass_g=mass_g, metal=metal, now=timezone.now())


@router.post(
    "/{tag}/goes",
    response={201: schemas.DryingOut, **PROBLEMS},
    operation_id="start_go",
    summary="A go begins",
)
def start_go(request: HttpRequest, data: schemas.GoIn, tag: str = TagPath):
    """Note a go as begun."""
    workshop, now = workshop_of(request), timezone.now()
    deeds.start_go(
        open_run(workshop, tag), key=data.key, power_w=data.power_w, seconds=data.seconds,
        before_g=data.before_g, at=data.at or now, now=now,
    )  # fmt: skip
    return Status(201, drying_out(workshop, tag, now))


@router.post(
    "/{tag}/goes/{go_id}",
    response={200: schemas.DryingOut, **PROBLEMS},
    operation_id="finish_go",
    summary="Weighed cold after a go",
)
def finish_go(request: HttpRequest, data: schemas.GoDoneIn, tag: str = TagPath, go_id: int = IdPath):
    """Note what it weighed once cold."""
    workshop = workshop_of(request)
    go = get_object_or_404(Go, run=open_run(workshop, tag), id=go_id)
    deeds.finish_go(go, after_g=data.after_g)
    return drying_out(workshop, tag, timezone.now())


@router.post(
    "/{tag}/turned",
    response={201: schemas.DryingOut, **PROBLEMS},
    operation_id="turn_again",
    summary="Turned again while drying",
)
def turned(request: HttpRequest, data: schemas.TurnedIn, tag: str = TagPath):
    """Note new wall and weight: the curve goes on from there."""
    workshop, now = workshop_of(request), timezone.now()
    deeds.turn_again(
        open_run(workshop, tag), wall_mm=data.wall_mm, bottom_mm=data.bottom_mm, before_g=data.before_g,
        after_g=data.after_g, at=data.at or now, now=now, by=request.user,
    )  # fmt: skip
    return Status(201, drying_out(workshop, tag, now))


@router.patch(
    "/{tag}/sizes",
    response={200: schemas.DryingOut, **PROBLEMS},
    operation_id="mend_sizes",
    summary="Mend its sizes",
)
def mend_sizes(request: HttpRequest, data: schemas.SizesIn, tag: str = TagPath):
    """Mend the sizes its drying began with; the forecast follows."""
    workshop, now = workshop_of(request), timezone.now()
    services.mend_sizes(
        open_run(workshop, tag), changes=data.model_dump(exclude_none=True), now=now, by=request.user
    )
    return drying_out(workshop, tag, now)


@router.post(
    "/{tag}/split",
    response={201: schemas.SplitOut, **PROBLEMS},
    operation_id="split",
    summary="Split into parts",
)
def split(request: HttpRequest, data: schemas.SplitIn, tag: str = TagPath):
    """End its drying by splitting it: each part dries on with what was learnt."""
    workshop, now = workshop_of(request), timezone.now()
    made = deeds.split(
        open_run(workshop, tag), parts=[p.model_dump() for p in data.parts], at=data.at or now, now=now,
        by=request.user,
    )  # fmt: skip
    return Status(201, {"tags": [p.tag for p in made]})


def _run_or_none(workshop: Any, tag: str) -> DryingRun | None:
    return open_runs(workshop).filter(piece__tag=tag.strip().upper()).first()


@router.get(
    "/{tag}/what-if", response={200: schemas.WaysOut, **PROBLEMS}, operation_id="what_if", summary="What if?"
)
def what_if(request: HttpRequest, tag: str = TagPath, place_id: int | None = Query(None, ge=1, le=2**53)):
    """Return the ways of keeping a piece side by side, from what its weights taught."""
    workshop, now = workshop_of(request), timezone.now()
    piece = piece_of(workshop, tag)
    run = _run_or_none(workshop, tag)
    place = place_of(workshop, place_id) if place_id else None
    ways = deeds.ways_of(piece, run, place=place, now=now)
    step = run.steps.last() if run else None
    stay = run.stays.last() if run else None
    where = place or (stay.place if stay else workshop.places.first())
    return schemas.WaysOut(
        ways=list(ways), chosen=step.way if step else "", target_mc_pct=target_mc_pct(workshop),
        place=where.name if where else "", drying=run is not None,
    )  # fmt: skip


@router.post(
    "/{tag}/what-if",
    response={201: schemas.DryingOut, **PROBLEMS},
    operation_id="choose_way",
    summary="Take this way",
)
def choose(request: HttpRequest, data: schemas.ChooseIn, tag: str = TagPath):
    """Take a way: its steps enter Today and the calendar."""
    workshop, now = workshop_of(request), timezone.now()
    run = open_run(workshop, tag)
    stay = run.stays.last()
    place = place_of(workshop, data.place_id) if data.place_id else stay.place if stay else None
    ways = {w.key: w for w in deeds.ways_of(run.piece, run, place=place, now=now)}
    if data.way not in ways or place is None:
        raise Impossible("no-such-way", "way", "That way is not open to it now.")
    deeds.choose_way(run, ways[data.way], place=place, now=now, by=request.user)
    return Status(201, drying_out(workshop, tag, now))


@router.post(
    "/{tag}/pair",
    response={200: schemas.DryingOut, **PROBLEMS},
    operation_id="pair",
    summary="Set beside a control",
)
def pair(request: HttpRequest, data: schemas.PairIn, tag: str = TagPath):
    """Set a piece beside its control, or let go of it."""
    workshop = workshop_of(request)
    other = open_run(workshop, data.tag) if data.tag else None
    deeds.pair(open_run(workshop, tag), other)
    return drying_out(workshop, tag, timezone.now())
