"""Reading the yard: logs as the core sees them, and what is left of them."""

import math
from dataclasses import replace

from django.http import Http404
from django.shortcuts import get_object_or_404

from kilncore.logs.keeping import Keeping, keeping
from kilncore.logs.shape import LogShape
from server.apps.shop.models import Workshop
from server.apps.yard.models import Blank, Log

__all__ = ["blank_of", "faults_of", "free_shape", "keeping_of", "left_mm", "log_of", "shape_of"]


def log_of(workshop: Workshop, log_id: int) -> Log:
    """Return a log of this workshop or 404."""
    return get_object_or_404(
        Log.objects.prefetch_related("blanks__pieces", "photos"), workshop=workshop, id=log_id
    )


def faults_of(log: Log) -> tuple[str, ...]:
    """Return what is wrong with it, in the core's words."""
    return tuple(name for name in ("cracked", "rot", "insects", "nails") if getattr(log, name))


def _pith(offset: float | None, angle: float | None) -> tuple[float, float]:
    turn = math.radians(angle if angle is not None else 90.0)
    return (offset or 0.0) * math.cos(turn), (offset or 0.0) * math.sin(turn)


def shape_of(log: Log) -> LogShape | None:
    """Return a log's shape, None while length or width is not known.

    Where only the mean width under bark was given, both ends have it and no bark is counted.
    """
    if log.length_mm is None or not (log.large_wide_mm or log.small_wide_mm or log.diameter_mm):
        return None
    plain = log.diameter_mm or log.large_wide_mm or log.small_wide_mm or 0.0
    measured = bool(log.large_wide_mm or log.small_wide_mm)
    large = log.large_wide_mm or log.small_wide_mm or plain
    small = log.small_wide_mm or log.large_wide_mm or plain
    at_large = _pith(log.pith_offset_mm, log.pith_angle_deg)
    other = log.pith_small_offset_mm is not None
    return LogShape(
        length_mm=log.length_mm,
        large_mm=(large, log.large_tall_mm or large),
        small_mm=(small, log.small_tall_mm or small),
        bark_mm=(log.bark_mm or 0.0) if measured else 0.0,
        pith_large=at_large,
        pith_small=_pith(log.pith_small_offset_mm, log.pith_small_angle_deg) if other else at_large,
        trim_start_mm=log.trim_start_mm,
        trim_end_mm=log.trim_end_mm,
        faults=faults_of(log),
    )


def _cut_spans(log: Log) -> list[tuple[float, float]]:
    """Lengths of the log that have been cut away, joined."""
    spans: list[tuple[float, float]] = []
    for start, length in sorted({(b.start_mm, b.length_mm) for b in log.blanks.all()}):
        if spans and start <= spans[-1][1] + 12.0:
            spans[-1] = (spans[-1][0], max(spans[-1][1], start + length))
        else:
            spans.append((start, start + length))
    return spans


def free_shape(log: Log) -> LogShape | None:
    """Return the log with all but its longest uncut length trimmed away; 404 when none is left."""
    shape = shape_of(log)
    spans = _cut_spans(log)
    if shape is None or not spans:
        return shape
    edges = [shape.trim_start_mm, *(e for span in spans for e in span), shape.length_mm - shape.trim_end_mm]
    gaps = [(edges[i], edges[i + 1]) for i in range(0, len(edges), 2)]
    start, end = max(gaps, key=lambda gap: gap[1] - gap[0])
    if end - start < 60.0:
        raise Http404("nothing left")
    saw_cut = 8.0 if start > shape.trim_start_mm else 0.0
    return replace(shape, trim_start_mm=start + saw_cut, trim_end_mm=shape.length_mm - end)


def left_mm(log: Log) -> float | None:
    """Return the length not cut yet, between the trims; None where it was never measured."""
    shape = shape_of(log)
    if shape is None:
        return None
    return round(max(0.0, shape.usable_mm - sum(b - a for a, b in _cut_spans(log))), 1)


def keeping_of(log: Log, *, since_days: float | None, day_of_year: float) -> Keeping | None:
    """Return how far it has gone, None where its felling date is not known."""
    if since_days is None:
        return None
    return keeping(
        log.species,
        since_days=max(since_days, 0.0),
        day_of_year=day_of_year,
        sealed=log.ends_sealed,
        faults=faults_of(log),
    )


def blank_of(log: Log, number: int) -> Blank:
    """Return a blank of a log or 404."""
    return get_object_or_404(Blank, log=log, number=number)
