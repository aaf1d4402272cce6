"""Logs and species over HTTP."""

from datetime import date
from typing import Annotated

from django.db.models import Count
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema, Status
from pydantic import Field

from kilncore.wood.species import Known, all_species
from server.api.problems import PROBLEMS
from server.api.shapes import Input, Length, Line
from server.apps.shop.queries import workshop_of
from server.apps.yard import services
from server.apps.yard.models import Log

router = Router(tags=["yard"])


class LogIn(Input):
    """A log as it came in."""

    species: Annotated[Line, Field(max_length=40)]
    origin: Annotated[Line, Field(max_length=120)] = ""
    felled_on: date | None = None
    length_mm: Length | None = None
    diameter_mm: Length | None = None
    pith_offset_mm: Length | None = None
    cracked: bool = False
    ends_sealed: bool = False
    lies_at: Annotated[Line, Field(max_length=80)] = ""
    note: Line = ""


class LogOut(Schema):
    """A log and how many pieces came from it."""

    id: int
    number: int
    species: str
    species_name: str
    origin: str
    felled_on: date | None
    days_since_felled: int | None
    length_mm: float | None
    diameter_mm: float | None
    pith_offset_mm: float | None
    cracked: bool
    ends_sealed: bool
    lies_at: str
    note: str
    pieces: int


class SpeciesOut(Schema):
    """A species with its figures and their spread."""

    key: str
    common: str
    botanical: str
    kind: str
    gb: Known
    green_mc_pct: Known
    shrink_radial_pct: Known
    shrink_tangential_pct: Known
    hazards: list[str]
    traits: list[str]
    source: str
    is_wild: bool


def _out(log: Log) -> LogOut:
    today = timezone.localdate()
    return LogOut(
        **{
            name: getattr(log, name)
            for name in LogOut.model_fields
            if name not in ("species_name", "days_since_felled", "pieces")
        },
        species_name=all_species()[log.species].common,
        days_since_felled=(today - log.felled_on).days if log.felled_on else None,
        pieces=getattr(log, "piece_count", 0),
    )


@router.get(
    "/logs", response={200: list[LogOut], **PROBLEMS}, operation_id="logs", summary="Logs in the yard"
)
def logs(request: HttpRequest):
    """Logs, oldest felled first: what goes off first stands first."""
    rows = workshop_of(request).logs.annotate(piece_count=Count("pieces"))
    ordered = sorted(rows, key=lambda log: (log.felled_on or date.max, log.number))
    return [_out(log) for log in ordered]


@router.post("/logs", response={201: LogOut, **PROBLEMS}, operation_id="take_in_log", summary="Take in a log")
def take_in_log(request: HttpRequest, data: LogIn):
    """Take in a log."""
    log = services.take_in_log(workshop_of(request), today=timezone.localdate(), **data.model_dump())
    return Status(201, _out(log))


@router.get(
    "/species", response={200: list[SpeciesOut], **PROBLEMS}, operation_id="species", summary="Species table"
)
def species(request: HttpRequest):
    """Every species with its figures."""
    return list(all_species().values())
