"""Reading pieces; always within a workshop."""

from django.shortcuts import get_object_or_404

from kilncore.route.facts import PieceFacts
from server.apps.pieces.designs import design_from
from server.apps.pieces.models import Piece, Stage
from server.apps.shop.models import Workshop

__all__ = ["active_stage", "facts_of", "free_tag", "piece_of", "stage_of"]


def piece_of(workshop: Workshop, tag: str) -> Piece:
    """Return a piece of this workshop or 404; tags do not mind case."""
    return get_object_or_404(
        Piece.objects.prefetch_related("stages__coats"), workshop=workshop, tag=tag.strip().upper()
    )


def stage_of(piece: Piece, kind: str) -> Stage:
    """Return a stage of the piece or 404."""
    return get_object_or_404(Stage, piece=piece, kind=kind)


def active_stage(piece: Piece) -> Stage | None:
    """Return the stage in hand; None when the piece is done."""
    return next((s for s in piece.stages.all() if s.state == "active"), None)


def facts_of(piece: Piece, overrides: dict[str, object] | None = None) -> PieceFacts:
    """Return the piece as the core sees it, with what earlier stages noted."""
    stages = piece.stages.all() if piece.pk else ()
    recorded = {s.kind: s.notes for s in stages if s.state == "done"}
    values: dict[str, object] = {
        "diameter_mm": piece.diameter_mm,
        "height_mm": piece.height_mm,
        "finish_diameter_mm": piece.finish_diameter_mm,
        "finish_wall_mm": piece.finish_wall_mm,
        **(overrides or {}),
    }
    return PieceFacts(
        species_key=piece.species,
        form_key=piece.form,
        way=piece.way,
        state=piece.state,
        purpose=piece.purpose,
        conditions=tuple(c for c in piece.conditions.split(",") if c),
        pith_mm=piece.pith_mm,
        recorded=recorded,
        design=design_from(piece.design),
        **values,  # type: ignore[arg-type]
    )


def free_tag(workshop: Workshop) -> str:
    """Return the next number nobody wears."""
    taken = set(workshop.pieces.values_list("tag", flat=True))
    number = max((int(t) for t in taken if t.isdigit()), default=0) + 1
    while str(number) in taken:
        number += 1
    return str(number)
