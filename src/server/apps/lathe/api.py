"""The lathe side over HTTP: shapes, cores, reach, directions, chatter, speeds used."""

import json
from collections.abc import Iterator
from dataclasses import asdict

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Path, Query, Router, Status

from kilncore.coring.cut import CoreCut
from kilncore.coring.nest import VALUES, Nest, NestAsk, nest_of, search
from kilncore.errors import CoreError, Impossible, Unknown
from kilncore.rules.chatter import SIGNS, Advice, ChatterAsk, chatter_advice
from kilncore.rules.direction import Directions, cut_directions
from kilncore.rules.reach import ReachPlan, reach_plan
from kilncore.rules.wall import clean_up_mm
from kilncore.said import Figure, say
from kilncore.solids.curve import Handle, curve, from_points
from kilncore.solids.depth import Reading, check_readings, depth_card, profile_from_measures
from kilncore.solids.design import Design, Foot, Setting, Stock, largest_in, shaped
from kilncore.solids.families import SHAPES, Sizes, family_handles
from kilncore.solids.fit import Fit, fit_over
from kilncore.solids.mesh import mesh_of
from kilncore.solids.walls import WALL_PLANS, WallPlan
from kilncore.solids.warp import (
    ORIENTATIONS,
    Pith,
    dried_shape,
    left_in,
    needed_wall_mm,
    strains_at,
)
from kilncore.wood.species import species
from server.api.problems import PROBLEMS
from server.apps.lathe import prints, queries, schemas, services
from server.apps.lathe.models import CalliperReading, Sketch, SpeedUse
from server.apps.pieces.designs import design_from, design_kept
from server.apps.pieces.models import Piece
from server.apps.pieces.queries import piece_of
from server.apps.shop.queries import bench_of, workshop_of
from server.apps.yard.outlines import points_from_dxf, points_from_svg

router = Router(tags=["lathe"])
TagPath = Path(..., max_length=40)
IdPath = Path(..., ge=1, le=2**53)


def design_of(data: schemas.DesignIn) -> Design:
    """Return a form as the core takes it."""

    def handles(rows: list[schemas.HandleIn]) -> tuple[Handle, ...]:
        return tuple(Handle(h.r_mm, h.z_mm, h.corner) for h in rows)

    return Design(
        outer=handles(data.outer),
        inner=handles(data.inner),
        plan=WallPlan(data.wall, data.wall_mm, data.bottom_mm),
        half_mm=data.half_mm,
        foot=Foot(data.foot, data.foot_mm, data.foot_length_mm),
    )


def _points(path: object) -> list[tuple[float, float]]:
    return [(round(r, 2), round(z, 2)) for r, z in path]  # type: ignore[attr-defined]


def _rows(handles: tuple[Handle, ...]) -> list[schemas.HandleIn]:
    return [schemas.HandleIn(r_mm=round(h.r_mm, 2), z_mm=round(h.z_mm, 2), corner=h.corner) for h in handles]


@router.get(
    "/words",
    response={200: schemas.LatheWords, **PROBLEMS},
    operation_id="lathe_words",
    summary="What may be chosen",
)
def words(request: HttpRequest):
    """Return families with their sliders, wall plans, orientations and signs of chatter."""
    return schemas.LatheWords(
        families=[
            schemas.FamilyOut(
                key=f.key, label=f.label, words=f.words, plan=f.plan, closed=f.closed, foot_share=f.foot_share,
                sliders=list(f.sliders),
            )
            for f in SHAPES.values()
        ],
        walls=[schemas.PlanWords(key=k, label=label, why=why) for k, (label, why) in WALL_PLANS.items()],
        orientations=ORIENTATIONS,
        signs=SIGNS,
        values=VALUES,
        felt=dict(SpeedUse.FELT),
    )  # fmt: skip


@router.post(
    "/family",
    response={200: schemas.HandlesOut, **PROBLEMS},
    operation_id="family",
    summary="A family's handles",
)
def family(request: HttpRequest, data: schemas.FamilyIn):
    """Return the handles of a named family."""
    if data.family not in SHAPES:
        raise Unknown("family", data.family, list(SHAPES))
    kind = SHAPES[data.family]
    foot = data.foot_mm if data.foot_mm is not None else kind.foot_share * data.width_mm
    handles = family_handles(data.family, Sizes(data.width_mm, data.height_mm, foot), data.sliders)
    return schemas.HandlesOut(
        outer=_rows(handles), half_mm=data.width_mm / 2.0 if kind.plan == "square" else None
    )


def _setting(request: HttpRequest, data: schemas.ShapeIn) -> tuple[Setting, Piece | None]:
    workshop = workshop_of(request)
    if data.tag is not None:
        piece = piece_of(workshop, data.tag)
        return queries.setting_of(piece, bench_of(workshop)), piece
    stock = Stock(**data.stock.model_dump()) if data.stock else None
    return Setting(species(data.species), data.mc_pct, stock, None, data.tool_mm), None


@router.post(
    "/shape", response={200: schemas.ShapeOut, **PROBLEMS}, operation_id="shape", summary="Judge a form"
)
def shape(request: HttpRequest, data: schemas.ShapeIn):
    """Return curves, walls, figures and what goes wrong; nothing is kept."""
    setting, piece = _setting(request, data)
    design = design_of(data.design)
    found = shaped(design, setting, full=data.full)
    largest = None
    if setting.stock is not None:
        scale, wide, tall = largest_in(design, setting.stock)
        largest = schemas.Largest(scale=scale, diameter_mm=wide, height_mm=tall)
    return schemas.ShapeOut(
        outer=_points(found.outer),
        inner=_points(found.inner),
        walls_mm=[round(w, 2) for w in found.wall.inner_mm],
        thin=found.wall.thin,
        thick=found.wall.thick,
        figures=list(found.figures),
        marks=[schemas.MarkOut(r_mm=m.r_mm, z_mm=m.z_mm, caution=m.caution) for m in found.marks],
        blank=found.blank,
        largest=largest,
        swing_mm=found.swing_mm,
        readings=_checks(piece, design) if piece is not None and data.full else [],
    )


def _checks(piece: Piece, design: Design) -> list:
    outer, inner = design.paths()
    found = []
    for row in piece.callipers.all():
        try:
            found += check_readings(outer, inner, (Reading(row.z_mm, row.wall_mm),))
        except CoreError:
            continue  # the form being tried has no wall at that height; the reading stays kept
    return found


@router.post(
    "/free",
    response={200: schemas.HandlesOut, **PROBLEMS},
    operation_id="free_inside",
    summary="Handles for the inside",
)
def free_inside(request: HttpRequest, data: schemas.DesignIn):
    """Return handles for the inside a wall plan gives, to be moved by hand."""
    design = design_of(data)
    _, inner = design.paths()
    handles = from_points(inner[1:], handles=7, to_foot=False)
    return schemas.HandlesOut(outer=_rows(design.outer), inner=_rows(handles), half_mm=design.half_mm)


@router.post(
    "/trace",
    response={200: schemas.HandlesOut, **PROBLEMS},
    operation_id="trace",
    summary="Handles of a traced card",
)
def trace(request: HttpRequest, data: schemas.TraceIn):
    """Return handles for a traced profile, or for a bowl measured at heights."""
    if data.kind == "measures":
        rows = tuple((m.z_mm, m.diameter_mm, m.wall_mm) for m in sorted(data.measures, key=lambda m: m.z_mm))
        outer, inner = profile_from_measures(rows, bottom_mm=data.bottom_mm)
        return schemas.HandlesOut(
            outer=_rows(from_points(outer, handles=12)),
            inner=_rows(from_points(inner, handles=12, to_foot=False)),
        )
    if data.kind == "points":  # radii and heights already
        return schemas.HandlesOut(outer=_rows(from_points(tuple(data.points), handles=data.handles)))
    read = points_from_svg if data.kind == "svg" else points_from_dxf
    points = _on_axis(tuple(read(data.text)), data.axis)
    return schemas.HandlesOut(outer=_rows(from_points(points, handles=data.handles)))


def _on_axis(points: tuple[tuple[float, float], ...], axis: str) -> tuple[tuple[float, float], ...]:
    """Lay a traced profile beside the axis: its left or right edge, or its middle, is the axis."""
    left, right = min(p[0] for p in points), max(p[0] for p in points)
    if axis == "middle":
        middle = 0.5 * (left + right)
        return tuple((x - middle, y) for x, y in points if x >= middle)
    return tuple((x - left if axis == "left" else right - x, y) for x, y in points)


@router.post(
    "/depth", response={200: schemas.DepthOut, **PROBLEMS}, operation_id="depth_card", summary="Depth card"
)
def depth(request: HttpRequest, data: schemas.DepthIn):
    """Return what to measure at every step of depth, and the depth hole."""
    outer, inner = design_of(data.design).paths()
    rows = depth_card(outer, inner, every_mm=data.every_mm, set_mm=data.set_mm)
    deep = inner[-1][1] - inner[0][1]
    hole = Figure(
        "depth_hole_mm", "Depth hole, from the rim", value=round(deep - 1.0, 1), source="common-practice",
        why=say("depth-hole", "{deep_mm} from the rim to the floor of the hollow, stopping {shy_mm} shy.", deep_mm=deep, shy_mm=1.0),
        group="depth", big=True,
    )  # fmt: skip
    return schemas.DepthOut(rows=list(rows), figures=[hole])


TYPES = {
    "svg": "image/svg+xml", "pdf": "application/pdf", "dxf": "image/vnd.dxf", "stl": "model/stl", "glb": "model/gltf-binary",
}  # fmt: skip


@router.post("/file", response={200: str, **PROBLEMS}, operation_id="shape_file", summary="A form as a file")
def shape_file(request: HttpRequest, data: schemas.ShapeFileIn):
    """Return a full-size template as SVG, PDF or DXF, or the solid as STL or GLB."""
    design = design_of(data.design)
    outer, inner = design.paths()
    title = data.title or "Profile"
    if data.kind == "svg":
        body: str | bytes = prints.template_svg(outer, inner, title=title)
    elif data.kind == "dxf":
        body = prints.template_dxf(outer, inner, title=title)
    elif data.kind == "pdf":
        body = prints.template_pdf(outer, inner, title=title, paper=data.paper)
    else:
        body = prints.mesh_file(mesh_of(outer, inner, around=96, along=80, half_mm=design.half_mm), data.kind)
    answer = HttpResponse(body, content_type=TYPES[data.kind])
    answer["Content-Disposition"] = f'attachment; filename="profile.{data.kind}"'
    return answer


def _pith(data: schemas.WarpIn, design: Design) -> tuple[Pith, Pith | None]:
    """The pith as it lies, and as it would with the other side of the log up."""
    outer = curve(design.outer)
    top, low = outer[-1][1], outer[0][1]
    if data.orientation == "end-grain":
        return Pith("end-grain", 0.0, data.pith_mm), None
    away = {"rim-to-pith": top + data.pith_mm, "rim-to-bark": top - data.pith_mm}
    here = Pith(data.orientation, away.get(data.orientation, top), data.off_mm)
    over = "rim-to-bark" if data.orientation == "rim-to-pith" else "rim-to-pith"
    # the same wood the other way up: as far from the pith, on its other side
    return here, Pith(over, top + low - here.z_mm, data.off_mm)


@router.post(
    "/warp",
    response={200: schemas.WarpOut, **PROBLEMS},
    operation_id="warp",
    summary="Where it goes as it dries",
)
def warp(request: HttpRequest, data: schemas.WarpIn):
    """Return the dried shape, the other way up beside it, and what round bowl is left."""
    design = design_of(data.design)
    outer, inner = design.paths()
    wood = species(piece_of(workshop_of(request), data.tag).species if data.tag else data.species)
    here, there = _pith(data, design)
    dried = dried_shape(outer, inner, pith=here, wood=wood, mc_pct=data.mc_pct)
    other = dried_shape(outer, inner, pith=there, wood=wood, mc_pct=data.mc_pct) if there else None
    return schemas.WarpOut(
        green_mm=2.0 * outer[-1][0],
        dried=dried,
        other=other,
        label=ORIENTATIONS[here.orientation],
        other_label=ORIENTATIONS[there.orientation] if there else "",
        figures=_left_figures(outer, inner, here, data, wood),
    )


def _left_figures(outer, inner, pith: Pith, data: schemas.WarpIn, wood) -> list[Figure]:
    wide, wall = left_in(outer, inner, pith=pith, wood=wood, mc_pct=data.mc_pct)
    clean = clean_up_mm(min(max(wide, 30.0), 1200.0), wild=wood.is_wild)
    need_d, need_w = needed_wall_mm(
        outer, finish_wall_mm=data.design.wall_mm, clean_mm=clean, pith=pith, wood=wood, mc_pct=data.mc_pct
    )
    return [
        Figure("left_mm", "Largest ring still inside", value=round(wide - 2 * clean, 1), source="geometry", group="warp",
               why=say("left", "Least radius of the dried rim twice over, {clean_mm} cleaned off each face.", clean_mm=clean)),
        Figure("wall_left_mm", "Round wall left in it", value=round(max(wall - 2 * clean, 0.0), 1), source="geometry", group="warp",
               why=say("wall-left-full", "At every height the least outer less the greatest inner radius, {clean_mm} off each face.", clean_mm=clean)),
        Figure("rough_wall_mm", "Rough wall for this as the finished bowl", value=round(need_w, 1), source="geometry", group="warp",
               why=say("rough-full", "Roughed {rough_mm} across with this wall, a round bowl of {finish_mm} and {wall_mm} is still in it once dry; "
                       "a tenth of the width would be {tenth_mm}.", rough_mm=need_d, finish_mm=2 * max(r for r, _ in outer),
                       wall_mm=data.design.wall_mm, tenth_mm=need_d / 10.0)),
    ]  # fmt: skip


@router.post(
    "/mesh",
    response={200: schemas.MeshOut, **PROBLEMS},
    operation_id="mesh",
    summary="The solid, green and dried",
)
def mesh(request: HttpRequest, data: schemas.WarpIn):
    """Return the same triangles green and dried, for turning on a screen."""
    design = design_of(data.design)
    outer, inner = design.paths()
    wood = species(piece_of(workshop_of(request), data.tag).species if data.tag else data.species)
    here, _ = _pith(data, design)
    green = mesh_of(outer, inner, around=48, along=26, half_mm=design.half_mm)
    dried = mesh_of(
        outer,
        inner,
        around=48,
        along=26,
        half_mm=design.half_mm,
        pith=here,
        strains=strains_at(wood, data.mc_pct),
    )
    return schemas.MeshOut(
        green=[round(float(v), 2) for v in green.vertices.ravel()],
        dried=[round(float(v), 2) for v in dried.vertices.ravel()],
        triangles=[int(i) for i in green.triangles.ravel()],
        green_pct=30.0,
        dried_pct=data.mc_pct,
    )


@router.post("/fit", response={200: Fit, **PROBLEMS}, operation_id="fit", summary="Does it go in")
def fit(request: HttpRequest, data: schemas.FitIn):
    """Return where a piece seats in a shell."""
    shell = design_of(data.shell).paths()[1]
    return fit_over(shell, design_of(data.piece).paths()[0], wanted_mm=data.wanted_mm)


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
        "outer": _points(ask.outer),
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


@router.post(
    "/reach", response={200: ReachPlan, **PROBLEMS}, operation_id="reach", summary="Which bar reaches what"
)
def reach(request: HttpRequest, data: schemas.ReachIn):
    """Return what each bar of the shop reaches, and what none does."""
    bench = bench_of(workshop_of(request))
    _, inner = design_of(data.design).paths()
    return reach_plan(inner, bars=bench.bars, school=bench.way.handle)


@router.post(
    "/directions",
    response={200: Directions, **PROBLEMS},
    operation_id="directions",
    summary="Which way to cut",
)
def directions(request: HttpRequest, data: schemas.DirectionsIn):
    """Return the cuts that leave every fibre held by others."""
    outer, inner = design_of(data.design).paths()
    return cut_directions(outer, inner, grain=data.grain, inside=data.inside)


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
