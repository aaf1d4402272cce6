"""Cores, speeds used, and what is kept of a piece at the lathe, over HTTP."""

import json
from collections.abc import Iterator
from dataclasses import asdict

from django.http import HttpRequest, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Path, Query, Router, Status

from kilncore.coring.cut import CoreCut
from kilncore.coring.nest import Nest, NestAsk, nest_of, search
from kilncore.errors import Impossible, Unknown
from kilncore.rules.chatter import Advice, ChatterAsk, chatter_advice
from kilncore.solids.curve import curve
from kilncore.solids.families import Sizes, family_handles
from server.api.problems import PROBLEMS
from server.apps.lathe import queries, schemas, services
from server.apps.lathe.models import CalliperReading, Sketch, SpeedUse
from server.apps.lathe.shape_api import design_of, points_out
from server.apps.pieces.designs import design_from, design_kept
from server.apps.pieces.models import Piece
from server.apps.pieces.queries import piece_of
from server.apps.shop.queries import bench_of, workshop_of

router = Router(tags=["lathe"])
TagPath = Path(..., max_length=40)
IdPath = Path(..., ge=1, le=2**53)


def _nest_ask(request: HttpRequest, data: schemas.NestIn) -> NestAsk:
    workshop = workshop_of(request)
    piece = piece_of(workshop, data.tag) if data.tag else None
    width, height = data.width_mm, data.height_mm
    if data.design is not None:
        outer = design_of(data.design).paths()[0]
    else:
        width = width or (piece.diameter_mm if piece else 300.0)
        height = height or (piece.height_mm - 12.0 if piece else 120.0)
        outer = curve(family_handles("hemisphere", Sizes(width, height, 0.4 * width)))
    across = 2.0 * max(r for r, _ in outer)
    knives = bench_of(workshop).knives
    if not knives:
        raise Impossible("no-knives", "knives", "There is no coring knife in the shop; add one there.")
    return NestAsk(
        outer=outer, knives=knives, wall_mm=data.wall_mm or across / 10.0, bottom_mm=data.bottom_mm or 1.2 * across / 10.0,
        least_mm=data.least_mm, tenon_mm=data.tenon_mm, value=data.value, price_per_cm=data.price_per_cm, offsets=data.offsets,
    )  # fmt: skip


def _cuts(ask: NestAsk, data: schemas.NestIn) -> tuple[CoreCut, ...]:
    by_name = {k.key: k for k in ask.knives}
    cuts = []
    for cut in data.cuts:
        if cut.knife not in by_name:
            raise Unknown("knife", cut.knife, list(by_name))
        cuts.append(CoreCut(by_name[cut.knife], cut.gap_mm, cut.off_mm))
    return tuple(cuts)


def _start(ask: NestAsk) -> dict[str, object]:
    return {
        "outer": points_out(ask.outer),
        "wall_mm": ask.wall_mm,
        "bottom_mm": ask.bottom_mm,
        "knives": [k.key for k in ask.knives],
    }


@router.post(
    "/nest", response={200: schemas.NestOut, **PROBLEMS}, operation_id="own_nest", summary="Kerfs by hand"
)
def own_nest(request: HttpRequest, data: schemas.NestIn):
    """Return a set of kerfs placed by hand, with everything that breaks."""
    ask = _nest_ask(request, data)
    return {"nest": nest_of(ask, _cuts(ask, data)), "start": _start(ask)}


@router.post(
    "/nest/search",
    response={200: str, **PROBLEMS},
    operation_id="search_nest",
    summary="The best nest, with progress",
)
def search_nest(request: HttpRequest, data: schemas.NestIn):
    """Search; a line of JSON for each step, the plan in the last."""
    ask = _nest_ask(request, data)

    def lines() -> Iterator[str]:
        for done, plan in search(ask):
            found = None
            if plan is not None:
                found = {n.key: asdict(n) for n in (plan.best, plan.largest_first, plan.one)} | {
                    "tried": plan.tried
                }
            yield json.dumps({"done": done, "start": _start(ask), "plan": found}) + "\n"

    return StreamingHttpResponse(lines(), content_type="application/x-ndjson")


@router.post(
    "/{tag}/cores",
    response={201: schemas.Taken, **PROBLEMS},
    operation_id="take_cores",
    summary="The cores are out",
)
def take_cores(request: HttpRequest, data: schemas.NestIn, tag: str = TagPath):
    """Make the cores pieces of their own with lineage and routes."""
    piece = piece_of(workshop_of(request), tag)
    ask = _nest_ask(request, data.model_copy(update={"tag": piece.tag}))
    nest: Nest = nest_of(ask, _cuts(ask, data))
    made = services.take_cores(piece, ask, nest, now=timezone.now(), by=request.user)
    return Status(201, {"tags": [p.tag for p in made]})


@router.delete(
    "/{tag}/cores",
    response={204: None, **PROBLEMS},
    operation_id="put_back_cores",
    summary="They did not come out",
)
def put_back_cores(request: HttpRequest, tag: str = TagPath):
    """Take the cores' pieces back while nothing was done to them."""
    services.put_back_cores(piece_of(workshop_of(request), tag), now=timezone.now(), by=request.user)
    return Status(204, None)


@router.post("/chatter", response={200: Advice, **PROBLEMS}, operation_id="chatter", summary="It chatters")
def chatter(request: HttpRequest, data: schemas.ChatterIn):
    """Return what to change, in order."""
    return chatter_advice(ChatterAsk(**data.model_dump()), lathe=bench_of(workshop_of(request)).lathe)


def speed_out(row: SpeedUse) -> schemas.SpeedOut:
    """Return a speed used."""
    return schemas.SpeedOut(
        id=row.id, tag=row.piece.tag if row.piece else None, stage=row.stage, swing_mm=row.swing_mm,
        speed_rpm=row.speed_rpm, felt=row.felt, words=row.words, at=row.at,
    )  # fmt: skip


@router.get(
    "/speeds",
    response={200: list[schemas.SpeedOut], **PROBLEMS},
    operation_id="speeds",
    summary="What was used last time",
)
def speeds(
    request: HttpRequest,
    stage: str | None = Query(None, max_length=12),
    swing_mm: float | None = Query(None, gt=0, lt=5000),
):
    """Return speeds used before for like work."""
    return [speed_out(r) for r in services.last_speeds(workshop_of(request), stage=stage, swing_mm=swing_mm)]


@router.post(
    "/speeds", response={201: schemas.SpeedOut, **PROBLEMS}, operation_id="note_speed", summary="Note a speed"
)
def note_speed(request: HttpRequest, data: schemas.SpeedIn):
    """Write down a speed and how it felt."""
    workshop = workshop_of(request)
    values = data.model_dump()
    tag = values.pop("tag")
    piece = piece_of(workshop, tag) if tag else None
    return Status(201, speed_out(services.note_speed(workshop, piece=piece, now=timezone.now(), **values)))


@router.get(
    "/sketches",
    response={200: list[schemas.SketchOut], **PROBLEMS},
    operation_id="sketches",
    summary="Forms kept",
)
def sketches(request: HttpRequest):
    """Return the workshop's own forms."""
    return list(Sketch.objects.filter(workshop=workshop_of(request)))


@router.post(
    "/sketches",
    response={201: schemas.SketchOut, **PROBLEMS},
    operation_id="keep_sketch",
    summary="Keep a form",
)
def keep_sketch(request: HttpRequest, data: schemas.SketchIn):
    """Keep a form under a name."""
    row = services.keep_sketch(
        workshop_of(request), name=data.name, design=design_of(data.design), now=timezone.now()
    )
    return Status(201, row)


@router.delete(
    "/sketches/{sketch_id}",
    response={204: None, **PROBLEMS},
    operation_id="drop_sketch",
    summary="Drop a form",
)
def drop_sketch(request: HttpRequest, sketch_id: int = IdPath):
    """Drop a form kept."""
    get_object_or_404(Sketch, workshop=workshop_of(request), id=sketch_id).delete()
    return Status(204, None)


def design_out(piece: Piece) -> schemas.DesignOut:
    """Return a piece's own form and what it is judged with."""
    setting = queries.setting_of(piece, bench_of(piece.workshop))
    design = design_from(piece.design)
    stock = queries.stock_of(piece)
    return schemas.DesignOut(
        design=schemas.DesignIn(**design_kept(design)) if design else None,
        species=piece.species,
        species_name=setting.wood.common,
        mc_pct=setting.mc_pct,
        grain="end-grain" if stock.orientation == "end-grain" else "side-grain",
        form=piece.form,
        stock=schemas.StockIn(**asdict(stock)),
        finish_diameter_mm=piece.finish_diameter_mm,
        finish_wall_mm=piece.finish_wall_mm,
        callipers=[schemas.CalliperOut.from_orm(c) for c in piece.callipers.all()],
        cores=[p.tag for p in services.cores_of(piece)],
    )


@router.get(
    "/{tag}/design",
    response={200: schemas.DesignOut, **PROBLEMS},
    operation_id="design",
    summary="A piece's own form",
)
def design(request: HttpRequest, tag: str = TagPath):
    """Return the form drawn for a piece."""
    return design_out(piece_of(workshop_of(request), tag))


@router.put(
    "/{tag}/design",
    response={200: schemas.DesignOut, **PROBLEMS},
    operation_id="keep_design",
    summary="Keep its form",
)
def keep_design(request: HttpRequest, data: schemas.DesignIn, tag: str = TagPath):
    """Keep a form with a piece; its cards follow."""
    workshop = workshop_of(request)
    piece = piece_of(workshop, tag)
    services.keep_design(piece, design_of(data), now=timezone.now(), by=request.user)
    return design_out(piece_of(workshop, tag))


@router.delete(
    "/{tag}/design",
    response={200: schemas.DesignOut, **PROBLEMS},
    operation_id="drop_design",
    summary="Drop its form",
)
def drop_design(request: HttpRequest, tag: str = TagPath):
    """Take a piece's own form away; its cards go back to the family's."""
    workshop = workshop_of(request)
    services.keep_design(piece_of(workshop, tag), None, now=timezone.now(), by=request.user)
    return design_out(piece_of(workshop, tag))


@router.post(
    "/{tag}/callipers",
    response={201: schemas.DesignOut, **PROBLEMS},
    operation_id="read_calliper",
    summary="A calliper reading",
)
def read_calliper(request: HttpRequest, data: schemas.CalliperIn, tag: str = TagPath):
    """Note a wall read at a height."""
    workshop = workshop_of(request)
    piece = piece_of(workshop, tag)
    services.read_calliper(piece, z_mm=data.z_mm, wall_mm=data.wall_mm, now=timezone.now(), by=request.user)
    return Status(201, design_out(piece_of(workshop, tag)))


@router.delete(
    "/{tag}/callipers/{reading_id}",
    response={200: schemas.DesignOut, **PROBLEMS},
    operation_id="drop_calliper",
    summary="Take a reading back",
)
def drop_calliper(request: HttpRequest, tag: str = TagPath, reading_id: int = IdPath):
    """Take a calliper reading back."""
    workshop = workshop_of(request)
    piece = piece_of(workshop, tag)
    services.drop_calliper(get_object_or_404(CalliperReading, piece=piece, id=reading_id))
    return design_out(piece_of(workshop, tag))
