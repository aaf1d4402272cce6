"""Reading the drying floor: everything from stored forecasts, nothing computed here."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.http import Http404
from django.shortcuts import get_object_or_404

from kilncore.drying.forecast import Now, next_weighing_days, read_now
from server.apps.drying.forecasts import (
    curve_of,
    days_since,
    fresh,
    light_runs,
    open_runs,
    stored,
    target_mc_pct,
)
from server.apps.drying.models import DryingRun, StoredForecast, WeighIn
from server.apps.shop.models import Workshop

__all__ = ["FloorRow", "floor", "floor_row", "open_run", "stale_tags", "weigh_in_of"]


@dataclass(frozen=True, slots=True)
class FloorRow:
    """A drying piece as lists need it."""

    run: DryingRun
    forecast: StoredForecast | None
    stale: bool
    now: Now | None
    weigh_at: datetime | None
    last_g: float | None
    last_at: datetime | None
    questioned: int
    questioned_g: float | None
    place: str
    wrap: str
    ends_sealed: bool

    def iso(self, span: str, which: str) -> str | None:
        """Return a span's day as text, None where never."""
        moment = self.moment(span, which)
        return None if moment is None else moment.isoformat()

    def moment(self, span: str, which: str) -> datetime | None:
        """Return a span's day (low, middle, high) as a date, None where never."""
        if self.forecast is None:
            return None
        days = self.forecast.data[span][which]
        return None if days is None else self.run.started_at + timedelta(days=days)

    @property
    def ready(self) -> bool:
        """Whether the middle of its moisture is at its target."""
        return bool(self.now and self.forecast and self.now.mc_pct <= self.forecast.data["target_mc_pct"])


def open_run(workshop: Workshop, tag: str) -> DryingRun:
    """Return the drying going on for a tag, or 404."""
    run = open_runs(workshop).filter(piece__tag=tag.strip().upper()).first()
    if run is None:
        raise Http404("not drying")
    return run


def weigh_in_of(workshop: Workshop, weigh_in_id: int) -> WeighIn:
    """Return a weight of this workshop or 404."""
    return get_object_or_404(WeighIn.objects.select_related("run"), workshop=workshop, id=weigh_in_id)


def floor_row(run: DryingRun, *, target: float, now: datetime) -> FloorRow:
    """Return one row; stale when what it was computed from has changed.

    ``run`` comes from ``summed`` or ``open_runs``.
    """
    row = stored(run)
    read = {name: getattr(run, name) for name in ("last_g", "last_at", "questioned", "questioned_g", "wrap")}
    where = {"place": getattr(run, "place_name"), "ends_sealed": getattr(run, "sealed")}  # noqa: B009
    if row is None:
        return FloorRow(run, None, True, None, None, **read, **where)
    reading = read_now(curve_of(row), max(days_since(run, now), 0.0))
    wait = next_weighing_days(reading.loss_per_week_pct) if read["last_at"] else 0.0
    due = (read["last_at"] or run.started_at) + timedelta(days=wait)
    return FloorRow(run, row, fresh(run, target) is None, reading, due, **read, **where)


def floor(workshop: Workshop, *, now: datetime) -> list[FloorRow]:
    """Return every drying piece."""
    target = target_mc_pct(workshop)
    return [floor_row(run, target=target, now=now) for run in light_runs(workshop)]


def stale_tags(workshop: Workshop, tags: list[str]) -> list[str]:
    """Return the tags, of those asked for or of all, whose forecast is not up to date."""
    target = target_mc_pct(workshop)
    runs = [run for run in light_runs(workshop) if not tags or run.piece.tag in tags]
    return [run.piece.tag for run in runs if fresh(run, target) is None]
