"""The shape bench over HTTP: forms judged, traced, dried, reached, printed; nothing here is kept."""

from dataclasses import fields

from django.http import HttpRequest, HttpResponse
from ninja import Router

from kilncore.coring.nest import VALUES
from kilncore.errors import CoreError, Impossible, Unknown
from kilncore.rules.chatter import SIGNS
from kilncore.rules.direction import Directions, cut_directions
from kilncore.rules.reach import ReachPlan, reach_plan
from kilncore.solids.curve import Handle, Path, from_points
from kilncore.solids.depth import (
    Reading,
    ReadingCheck,
    check_readings,
    depth_card,
    depth_hole,
    profile_from_measures,
)
from kilncore.solids.design import Design, Setting, Shaped, Stock, largest_in, shaped
from kilncore.solids.families import SHAPES, Sizes, family_handles
from kilncore.solids.fit import Fit, fit_over
from kilncore.solids.mesh import mesh_of
from kilncore.solids.once_dried import once_dried, pith_of
from kilncore.solids.walls import WALL_PLANS
from kilncore.solids.warp import ORIENTATIONS, strains_at
from kilncore.wood.species import Species, species
from server.api.problems import PROBLEMS
from server.apps.lathe import prints, queries, schemas
from server.apps.lathe.models import SpeedUse
from server.apps.pieces.designs import design_from
from server.apps.pieces.models import Piece
from server.apps.pieces.queries import piece_of
from server.apps.shop.queries import bench_of, workshop_of
from server.apps.yard.outlines import points_from_dxf, points_from_svg

router = Router(tags=["lathe"])


def design_of(data: schemas.DesignIn) -> Design:
    """Return a form as the core takes it."""
    found = design_from(data.model_dump())
    if found is None:
        raise Impossible("too-few-handles", "outer", "A profile wants between 2 and 40 points.")
    return found


def points_out(path: Path) -> list[tuple[float, float]]:
    """Return a path as it is sent, to a hundredth of a millimetre."""
    return [(round(r, 2), round(z, 2)) for r, z in path]


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
        outer=points_out(found.outer),
        inner=points_out(found.inner),
        walls_mm=[round(w, 2) for w in found.wall.inner_mm],
        thin=found.wall.thin,
        thick=found.wall.thick,
        figures=list(found.figures),
        marks=[schemas.MarkOut(r_mm=m.r_mm, z_mm=m.z_mm, caution=m.caution) for m in found.marks],
        blank=found.blank,
        largest=largest,
        swing_mm=found.swing_mm,
        readings=_checks(piece, found) if piece is not None and data.full else [],
    )


def _checks(piece: Piece, form: Shaped) -> list[ReadingCheck]:
    found: list[ReadingCheck] = []
    for row in piece.callipers.all():
        try:
            found += check_readings(form.outer, form.inner, (Reading(row.z_mm, row.wall_mm),))
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
    return schemas.DepthOut(rows=list(rows), figures=[depth_hole(inner)])


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


def _wood(request: HttpRequest, data: schemas.WarpIn) -> Species:
    return species(piece_of(workshop_of(request), data.tag).species if data.tag else data.species)


@router.post(
    "/warp",
    response={200: schemas.WarpOut, **PROBLEMS},
    operation_id="warp",
    summary="Where it goes as it dries",
)
def warp(request: HttpRequest, data: schemas.WarpIn):
    """Return the dried shape, the other way up beside it, and what round bowl is left."""
    outer, inner = design_of(data.design).paths()
    found = once_dried(
        outer,
        inner,
        pith=pith_of(outer, orientation=data.orientation, pith_mm=data.pith_mm, off_mm=data.off_mm),
        wood=_wood(request, data),
        mc_pct=data.mc_pct,
        finish_wall_mm=data.design.wall_mm if data.design.half_mm is None else None,
    )
    return {"green_mm": 2.0 * outer[-1][0], **{f.name: getattr(found, f.name) for f in fields(found)}}


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
    here = pith_of(outer, orientation=data.orientation, pith_mm=data.pith_mm, off_mm=data.off_mm)
    green = mesh_of(outer, inner, around=48, along=26, half_mm=design.half_mm)
    dried = mesh_of(
        outer,
        inner,
        around=48,
        along=26,
        half_mm=design.half_mm,
        pith=here,
        strains=strains_at(_wood(request, data), data.mc_pct),
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
