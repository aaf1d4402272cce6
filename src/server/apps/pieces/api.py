"""Pieces over HTTP."""

import io

import segno
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Path, Router, Status

from kilncore.route.facts import PURPOSES, STATES, default_finish_mm
from kilncore.route.planner import STAGES, WAYS, PlannedStage, default_way, plan_route
from kilncore.rules.hold import FORMS
from kilncore.solids.revolve import silhouettes
from kilncore.wood.species import all_species
from server.api.problems import PROBLEMS
from server.apps.pieces import schemas, services
from server.apps.pieces.cutting import cut_log, lineage_of, uncut
from server.apps.pieces.models import Piece, Stage
from server.apps.pieces.queries import active_stage, facts_of, free_tag, piece_of, stage_of
from server.apps.shop.queries import bench_of, workshop_of
from server.apps.yard.api import saw_of, spots_of
from server.apps.yard.queries import log_of

router = Router(tags=["pieces"])
TagPath = Path(..., max_length=40)
IdPath = Path(..., ge=1, le=2**53)


def row_of(piece: Piece, *, kind: str | None = None) -> dict[str, object]:
    """Return what every list of pieces shows of one; ``kind`` is its stage where already known."""
    if kind is None:
        stage = active_stage(piece)
        kind = stage.kind if stage else "done"
    form = FORMS[piece.form]
    return {
        **{
            name: getattr(piece, name)
            for name in (
                "tag",
                "name",
                "species",
                "form",
                "way",
                "diameter_mm",
                "height_mm",
                "finish_diameter_mm",
                "finished_at",
            )
        },
        "species_name": all_species()[piece.species].common,
        "form_label": form.label,
        "family": form.family,
        "stage": kind,
        "stage_title": STAGES[kind].title if kind in STAGES else "Split" if piece.became else "Done",
    }


def _stage_out(planned: PlannedStage, stage: Stage | None = None) -> schemas.StageOut:
    return schemas.StageOut(
        kind=planned.kind,
        title=planned.title,
        place=planned.place,
        why=planned.why,
        state=stage.state if stage else "waiting",
        done_at=stage.done_at if stage else None,
        notes=stage.notes if stage else {},
    )


def piece_out(piece: Piece) -> schemas.PieceOut:
    """Return a piece with its route."""
    planned = {s.kind: s for s in plan_route(facts_of(piece), bench=bench_of(piece.workshop))}
    stages = list(piece.stages.all())
    return schemas.PieceOut(
        **row_of(piece),
        way_label=WAYS[piece.way].label,
        state=piece.state,
        finish_wall_mm=piece.finish_wall_mm,
        purpose=piece.purpose,
        conditions=[c for c in piece.conditions.split(",") if c],
        pith_mm=piece.pith_mm,
        log_number=piece.log.number if piece.log else None,
        begun_at=piece.begun_at,
        stages=[_stage_out(planned[s.kind], s) for s in stages],
        coats=[schemas.CoatOut.from_orm(c) for s in stages for c in s.coats.all()],
    )


@router.get(
    "/options",
    response={200: schemas.FormOptions, **PROBLEMS},
    operation_id="options",
    summary="Choices for a new piece",
)
def options(request: HttpRequest):
    """Return what a new piece may be."""
    option = schemas.FormOptions.Option
    return schemas.FormOptions(
        species=[option(key=s.key, label=s.common, note=s.botanical) for s in all_species().values()],
        forms=[option(key=f.key, label=f.label) for f in FORMS.values()],
        states=[option(key=k, label=v) for k, v in STATES.items()],
        ways=[option(key=w.key, label=w.label, note=w.why, states=list(w.states)) for w in WAYS.values()],
        purposes=[option(key=k, label=v) for k, v in PURPOSES.items()],
        free_tag=free_tag(workshop_of(request)),
        silhouettes={family: list(path) for family, path in silhouettes().items()},
    )


@router.get(
    "", response={200: list[schemas.PieceRow], **PROBLEMS}, operation_id="pieces", summary="All pieces"
)
def pieces(request: HttpRequest):
    """Pieces of the workshop, those in work first."""
    rows = workshop_of(request).pieces.prefetch_related("stages").order_by("finished_at", "-begun_at")
    return [row_of(p) for p in rows]


def _planned(data: schemas.PieceIn) -> dict[str, object]:
    values = data.model_dump()
    values["conditions"] = ",".join(dict.fromkeys(values["conditions"]))
    if values["finish_diameter_mm"] is None:
        values["finish_diameter_mm"] = default_finish_mm(data.diameter_mm, state=data.state)
    values["way"] = values["way"] or default_way(data.state, form_key=data.form)
    return values


@router.post(
    "/suggest",
    response={200: schemas.Suggestion, **PROBLEMS},
    operation_id="suggest",
    summary="Plan without keeping",
)
def suggest(request: HttpRequest, data: schemas.PieceIn):
    """Return the route a piece like this would take; nothing is stored."""
    values = _planned(data)
    for name in ("tag", "log_id"):
        values.pop(name)
    piece = Piece(**values)
    planned = plan_route(facts_of(piece), bench=bench_of(workshop_of(request)))
    return schemas.Suggestion(
        finish_diameter_mm=piece.finish_diameter_mm, way=piece.way, stages=[_stage_out(p) for p in planned]
    )


@router.post(
    "", response={201: schemas.PieceOut, **PROBLEMS}, operation_id="begin_piece", summary="Begin a piece"
)
def begin_piece(request: HttpRequest, data: schemas.PieceIn):
    """Begin a piece; a tag is given unless one is typed."""
    workshop = workshop_of(request)
    piece = services.begin_piece(workshop, now=timezone.now(), by=request.user, **_planned(data))
    return Status(201, piece_out(piece))


@router.post(
    "/cut",
    response={201: schemas.CutOut, **PROBLEMS},
    operation_id="cut_log",
    summary="Cut blanks from a log",
)
def cut(request: HttpRequest, data: schemas.CutIn):
    """Turn chosen spots of a log into blanks, each a piece with a tag."""
    workshop = workshop_of(request)
    log = log_of(workshop, data.log_id)
    made = cut_log(log, spots=spots_of(data.spots), saw=saw_of(data.saw), now=timezone.now(), by=request.user)
    return Status(201, {"tags": [p.tag for p in made]})


@router.delete(
    "/cut/{log_id}/{number}",
    response={204: None, **PROBLEMS},
    operation_id="uncut",
    summary="It was not cut after all",
)
def take_back_cut(request: HttpRequest, log_id: int = IdPath, number: int = IdPath):
    """Take back a blank whose piece has not been worked on."""
    uncut(log_of(workshop_of(request), log_id), number)
    return Status(204, None)


@router.get(
    "/{tag}/tag.svg", response={200: str, **PROBLEMS}, operation_id="tag_code", summary="The code on its tag"
)
def tag_code(request: HttpRequest, tag: str = TagPath):
    """Return a square code that holds the tag, to print."""
    code = segno.make(piece_of(workshop_of(request), tag).tag, error="m", micro=False)
    out = io.BytesIO()
    code.save(out, kind="svg", scale=4, border=2, xmldecl=False)
    return HttpResponse(out.getvalue(), content_type="image/svg+xml")


@router.get(
    "/{tag}/lineage",
    response={200: schemas.LineageOut, **PROBLEMS},
    operation_id="lineage",
    summary="Where it came from and what it became",
)
def lineage(request: HttpRequest, tag: str = TagPath):
    """Return log, blank, parent and parts of a piece."""
    return lineage_of(piece_of(workshop_of(request), tag))


@router.get(
    "/{tag}",
    response={200: schemas.PieceOut, **PROBLEMS},
    operation_id="piece",
    summary="A piece and its route",
)
def piece(request: HttpRequest, tag: str = TagPath):
    """Return a piece with its route."""
    return piece_out(piece_of(workshop_of(request), tag))


@router.patch(
    "/{tag}",
    response={200: schemas.PieceOut, **PROBLEMS},
    operation_id="change_piece",
    summary="Change a piece",
)
def change_piece(request: HttpRequest, data: schemas.PieceChange, tag: str = TagPath):
    """Change sizes, name or tag; all figures follow."""
    found = piece_of(workshop_of(request), tag)
    changes = data.model_dump(exclude_none=True)
    changed = services.change_piece(found, now=timezone.now(), by=request.user, changes=changes)
    return piece_out(piece_of(changed.workshop, changed.tag))


@router.get(
    "/{tag}/events",
    response={200: list[schemas.EventOut], **PROBLEMS},
    operation_id="events",
    summary="What happened to it",
)
def events(request: HttpRequest, tag: str = TagPath):
    """Return everything that happened to a piece, oldest first."""
    return list(piece_of(workshop_of(request), tag).events.all())


@router.post(
    "/{tag}/coats",
    response={200: schemas.PieceOut, **PROBLEMS},
    operation_id="give_coat",
    summary="A coat was given",
)
def give_coat(request: HttpRequest, data: schemas.CoatGiven, tag: str = TagPath):
    """Note the next coat."""
    workshop, now = workshop_of(request), timezone.now()
    stage = stage_of(piece_of(workshop, tag), "coat")
    services.give_coat(stage, at=data.at or now, now=now, by=request.user)
    return piece_out(piece_of(workshop, tag))


@router.delete(
    "/{tag}/coats/last",
    response={200: schemas.PieceOut, **PROBLEMS},
    operation_id="take_back_coat",
    summary="Take a coat back",
)
def take_back_coat(request: HttpRequest, tag: str = TagPath):
    """Take back the last coat noted."""
    workshop = workshop_of(request)
    stage = stage_of(piece_of(workshop, tag), "coat")
    services.take_back_coat(stage, now=timezone.now(), by=request.user)
    return piece_out(piece_of(workshop, tag))
