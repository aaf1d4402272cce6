"""Logs, cutting layouts, outlines, resin and species over HTTP."""

from dataclasses import asdict
from typing import Any

from django.db.models import Count
from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import File, Path, Router, Status
from ninja.files import UploadedFile

from kilncore.errors import Impossible
from kilncore.logs.blanks import CUTS, Saw, Spot
from kilncore.logs.cutting import Layout, Want, cutting_layouts, marks_for, trial_layout
from kilncore.logs.identify import SIGNS, which_wood
from kilncore.logs.outline import balance_of, template
from kilncore.logs.resin import VOIDS, resin_plan, void_ml
from kilncore.logs.shape import LogShape
from kilncore.wood.species import all_species, species
from server.api.problems import PROBLEMS
from server.apps.shop.queries import workshop_of
from server.apps.yard import photos, schemas, services
from server.apps.yard.models import Log, LogPhoto
from server.apps.yard.outlines import points_from_dxf, points_from_svg, template_svg
from server.apps.yard.queries import free_shape, keeping_of, left_mm, log_of, shape_of

router = Router(tags=["yard"])
IdPath = Path(..., ge=1, le=2**53)
_OWN = set(schemas.LogFields.model_fields)


def _log_dict(log: Log) -> dict[str, Any]:
    today = timezone.localdate()
    since = (today - log.felled_on).days if log.felled_on else None
    return {
        **{name: getattr(log, name) for name in _OWN},
        "id": log.id,
        "number": log.number,
        "species_name": all_species()[log.species].common,
        "days_since_felled": since,
        "gone_on": log.gone_on,
        "keeping": keeping_of(log, since_days=since, day_of_year=float(today.timetuple().tm_yday)),
        "left_mm": left_mm(log),
        "pieces": getattr(log, "piece_count", 0),
        "measured": shape_of(log) is not None,
    }


def _end(shape: LogShape | None, along: float) -> schemas.EndOut | None:
    if shape is None:
        return None
    section = shape.at(along)
    return schemas.EndOut(a_mm=section.a_mm, b_mm=section.b_mm, bark_mm=shape.bark_mm, pith=section.pith)


def log_detail(log: Log) -> schemas.LogDetail:
    """Return a log in full."""
    shape = shape_of(log)
    return schemas.LogDetail(
        **_log_dict(log)
        | {"pieces": sum(len(b.pieces.all()) for b in log.blanks.all()) or log.pieces.count()},
        blanks=[
            schemas.BlankOut(
                **{n: getattr(b, n) for n in schemas.BlankOut.model_fields if n != "pieces"},
                pieces=[p.tag for p in b.pieces.all()],
            )
            for b in log.blanks.all()
        ],
        photos=[
            schemas.PhotoOut(
                id=p.id, url=f"/api/yard/logs/{log.id}/photos/{p.id}", width=p.width, height=p.height
            )
            for p in log.photos.all()
        ],
        large_end=_end(shape, 0.0),
        small_end=_end(shape, log.length_mm or 0.0),
        plan_wants=[schemas.WantIn(**w) for w in log.plan.get("wants", [])],
        has_plan=bool(log.plan.get("spots")),
    )


@router.get(
    "/logs", response={200: list[schemas.LogOut], **PROBLEMS}, operation_id="logs", summary="Logs in the yard"
)
def logs(request: HttpRequest):
    """Logs by what goes off first; those that are gone come last."""
    rows = workshop_of(request).logs.annotate(piece_count=Count("pieces")).prefetch_related("blanks")
    found = [_log_dict(log) for log in rows]

    def order(row: dict[str, Any]) -> tuple[bool, bool, float, float]:
        kept = row["keeping"]
        time = (kept.left_days, -kept.used_pct) if kept else (1e6, 0.0)
        return row["gone_on"] is not None, row["left_mm"] == 0.0, *time

    return sorted(found, key=order)


@router.post(
    "/logs",
    response={201: schemas.LogDetail, **PROBLEMS},
    operation_id="take_in_log",
    summary="Take in a log",
)
def take_in_log(request: HttpRequest, data: schemas.LogFields):
    """Take in a log."""
    log = services.take_in_log(workshop_of(request), today=timezone.localdate(), **data.model_dump())
    return Status(201, log_detail(log))


@router.get(
    "/logs/{log_id}", response={200: schemas.LogDetail, **PROBLEMS}, operation_id="log", summary="One log"
)
def one_log(request: HttpRequest, log_id: int = IdPath):
    """Return a log with its blanks and pictures."""
    return log_detail(log_of(workshop_of(request), log_id))


@router.patch(
    "/logs/{log_id}",
    response={200: schemas.LogDetail, **PROBLEMS},
    operation_id="change_log",
    summary="Change a log",
)
def change_log(request: HttpRequest, data: schemas.LogChange, log_id: int = IdPath):
    """Change what is known of a log, or note that it is gone (and take that back)."""
    workshop = workshop_of(request)
    log = log_of(workshop, log_id)
    services.change_log(log, today=timezone.localdate(), changes=data.model_dump(exclude_unset=True))
    return log_detail(log_of(workshop, log_id))


@router.post(
    "/logs/{log_id}/photos",
    response={201: schemas.LogDetail, **PROBLEMS},
    operation_id="add_log_photo",
    summary="Add a picture",
)
def add_photo(request: HttpRequest, photo: File[UploadedFile], log_id: int = IdPath):
    """Keep a picture, made small and without its hidden notes."""
    workshop = workshop_of(request)
    log = log_of(workshop, log_id)
    photos.add_photo(log, photo.read(photos.MOST_BYTES + 1), now=timezone.now())
    return Status(201, log_detail(log_of(workshop, log_id)))


def _photo(request: HttpRequest, log_id: int, photo_id: int) -> LogPhoto:
    return get_object_or_404(LogPhoto, log__workshop=workshop_of(request), log_id=log_id, id=photo_id)


@router.get(
    "/logs/{log_id}/photos/{photo_id}",
    response={200: str, **PROBLEMS},
    operation_id="log_photo",
    summary="A picture",
)
def photo(request: HttpRequest, log_id: int = IdPath, photo_id: int = IdPath):
    """Return the picture itself."""
    path = photos.path_of(_photo(request, log_id, photo_id))
    return FileResponse(path.open("rb"), content_type="image/jpeg")


@router.delete(
    "/logs/{log_id}/photos/{photo_id}",
    response={200: schemas.LogDetail, **PROBLEMS},
    operation_id="remove_log_photo",
    summary="Remove a picture",
)
def remove_photo(request: HttpRequest, log_id: int = IdPath, photo_id: int = IdPath):
    """Remove a picture."""
    photos.remove_photo(_photo(request, log_id, photo_id))
    return log_detail(log_of(workshop_of(request), log_id))


@router.get(
    "/species",
    response={200: list[schemas.SpeciesOut], **PROBLEMS},
    operation_id="species",
    summary="Species",
)
def species_table(request: HttpRequest):
    """Every species with its figures."""
    return list(all_species().values())


@router.get(
    "/signs", response={200: schemas.SignsOut, **PROBLEMS}, operation_id="signs", summary="Signs of a wood"
)
def signs(request: HttpRequest):
    """What can be looked for, smelt and tried."""
    return {"signs": list(SIGNS.values())}


@router.post(
    "/which-wood",
    response={200: schemas.GuessOut, **PROBLEMS},
    operation_id="which_wood",
    summary="Which wood is it?",
)
def which(request: HttpRequest, data: schemas.WhichIn):
    """Narrow the species by what was seen."""
    return which_wood(data.tried)


# -- cutting -------------------------------------------------------------------------------


def _measured(log: Log) -> LogShape:
    shape = free_shape(log)
    if shape is None:
        raise Impossible(
            "not-measured", "length_mm", "Measure its length and width first; then it can be laid out."
        )
    return shape


def saw_of(data: schemas.SawIn) -> Saw:
    """Return the saw as the core sees it."""
    return Saw(**data.model_dump())


def spots_of(data: list[schemas.SpotIn]) -> tuple[Spot, ...]:
    """Return the spots as the core sees them."""
    return tuple(Spot(**s.model_dump()) for s in data)


def layout_out(layout: Layout) -> schemas.LayoutOut:
    """Return a layout as it is drawn and listed."""
    blanks = []
    for blank in layout.blanks:
        cut = CUTS[blank.spot.cut]
        ys = [y for _, y in blank.end]
        blanks.append(
            asdict(blank)
            | {
                "cut_label": cut.label,
                "good_for": cut.good_for,
                "rim": cut.rim,
                "low_mm": min(ys),
                "high_mm": max(ys),
            }
        )
    return schemas.LayoutOut(
        **asdict(layout)
        | {"blanks": blanks, "refused": [{"id": i, "why": asdict(w)} for i, w in layout.refused]}
    )


@router.post(
    "/logs/{log_id}/layouts",
    response={200: schemas.LayoutsOut, **PROBLEMS},
    operation_id="layouts",
    summary="What to cut from it",
)
def layouts(request: HttpRequest, data: schemas.LayoutsIn, log_id: int = IdPath):
    """Return layouts side by side; the turner's own stands last when one is kept."""
    log = log_of(workshop_of(request), log_id)
    shape = _measured(log)
    saw = saw_of(data.saw)
    wants = tuple(Want(**w.model_dump()) for w in data.wants)
    found = [layout_out(lay) for lay in cutting_layouts(shape, saw=saw, wants=wants)]
    if log.plan.get("spots"):
        own = trial_layout(shape, tuple(Spot(**s) for s in log.plan["spots"]), saw=Saw(**log.plan["saw"]))
        found.append(layout_out(own))
    return schemas.LayoutsOut(
        layouts=found, saw=data.saw, start_mm=shape.trim_start_mm, end_mm=shape.length_mm - shape.trim_end_mm
    )


@router.post(
    "/logs/{log_id}/trial",
    response={200: schemas.LayoutOut, **PROBLEMS},
    operation_id="trial_layout",
    summary="A layout of one's own",
)
def trial(request: HttpRequest, data: schemas.TrialIn, log_id: int = IdPath):
    """Return what comes out of spots as they are dragged; nothing is kept."""
    shape = _measured(log_of(workshop_of(request), log_id))
    return layout_out(trial_layout(shape, spots_of(data.spots), saw=saw_of(data.saw)))


@router.put(
    "/logs/{log_id}/plan",
    response={200: schemas.LayoutOut, **PROBLEMS},
    operation_id="keep_plan",
    summary="Keep one's own layout",
)
def keep_plan(request: HttpRequest, data: schemas.TrialIn, log_id: int = IdPath):
    """Keep the turner's own layout with the log."""
    log = log_of(workshop_of(request), log_id)
    wants = [w.model_dump() for w in data.wants]
    return layout_out(services.keep_plan(log, spots=spots_of(data.spots), saw=saw_of(data.saw), wants=wants))


@router.post(
    "/logs/{log_id}/sheet",
    response={200: schemas.SheetOut, **PROBLEMS},
    operation_id="cutting_sheet",
    summary="The cutting sheet",
)
def sheet(request: HttpRequest, data: schemas.TrialIn, log_id: int = IdPath):
    """Return the marks for chainsaw and bandsaw, in order."""
    shape = _measured(log_of(workshop_of(request), log_id))
    saw = saw_of(data.saw)
    layout = trial_layout(shape, spots_of(data.spots), saw=saw)
    return schemas.SheetOut(layout=layout_out(layout), marks=list(marks_for(shape, layout, saw=saw)))


# -- outlines and resin ----------------------------------------------------------------------


def _outline(data: schemas.OutlineIn) -> schemas.OutlineOut:
    points = (
        template(data.template, width_mm=data.width_mm, length_mm=data.length_mm)
        if data.template
        else tuple(data.points)
    )
    balance = balance_of(
        points,
        thickness_mm=data.thickness_mm,
        gb=species(data.species).gb.typical,
        mc_pct=data.mc_pct,
        plate_mm=data.plate_mm,
        own=data.own,
    )
    return schemas.OutlineOut(points=list(points), balance=balance)


@router.post(
    "/outline",
    response={200: schemas.OutlineOut, **PROBLEMS},
    operation_id="outline",
    summary="Where it balances",
)
def outline(request: HttpRequest, data: schemas.OutlineIn):
    """Return balance point, swing and imbalance of an outline."""
    return _outline(data)


@router.post(
    "/outline/template",
    response={200: str, **PROBLEMS},
    operation_id="outline_template",
    summary="A template to print at full size",
)
def outline_template(request: HttpRequest, data: schemas.OutlineIn):
    """Return the outline with both centres as a full-size SVG."""
    made = _outline(data)
    text = template_svg(tuple(made.points), made.balance, title=data.title)
    return HttpResponse(text, content_type="image/svg+xml")


@router.post(
    "/outline/read",
    response={200: schemas.PointsOut, **PROBLEMS},
    operation_id="read_outline",
    summary="From a file",
)
def read_outline(request: HttpRequest, data: schemas.FileIn):
    """Return the largest outline of an SVG or DXF drawing."""
    reader = points_from_dxf if data.name.lower().endswith(".dxf") else points_from_svg
    return {"points": reader(data.text)}


@router.post(
    "/resin", response={200: schemas.ResinOut, **PROBLEMS}, operation_id="resin", summary="Resin for a void"
)
def resin(request: HttpRequest, data: schemas.ResinIn):
    """Return what to mix and in how many pours."""
    sizes = {n: v for n in VOIDS.get(data.kind, ()) if (v := getattr(data, n)) is not None}
    volume = void_ml(data.kind, **sizes)
    depth = data.depth_mm if data.depth_mm is not None else data.layer_mm
    return resin_plan(
        volume,
        depth_mm=depth,
        loss_pct=data.loss_pct,
        ratio_a=data.ratio_a,
        ratio_b=data.ratio_b,
        by=data.by,
        density_a_kg_m3=data.density_a_kg_m3,
        density_b_kg_m3=data.density_b_kg_m3,
        layer_mm=data.layer_mm,
    )
