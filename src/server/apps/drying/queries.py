"""Reading the drying floor: everything from stored forecasts, nothing computed here."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.http import Http404
from django.shortcuts import get_object_or_404

from kilncore.drying.forecast import Now, next_weighing_days, read_now
from server.apps.drying.forecasts import curve_of, days_since, fingerprint, open_runs, stored, target_mc_pct
from server.apps.drying.models import DryingRun, StoredForecast, WeighIn
from server.apps.shop.models import Workshop

__all__ = ["FloorRow", "floor", "floor_row", "last_weighed", "open_run", "weigh_in_of"]


@dataclass(frozen=True, slots=True)
class FloorRow:
    """A drying piece as lists need it."""

    run: DryingRun
    forecast: StoredForecast | None
    stale: bool
    now: Now | None
    weigh_at: datetime | None

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


def last_weighed(run: DryingRun) -> WeighIn | None:
    """Return the last weight that counts."""
    return next((w for w in reversed(run.weigh_ins.all()) if w.state == "accepted"), None)


def floor_row(run: DryingRun, *, target: float, now: datetime) -> FloorRow:
    """Return one row; stale when what it was computed from has changed."""
    row = stored(run)
    stale = row is None or row.fingerprint != fingerprint(run, target)
    if row is None:
        return FloorRow(run, None, True, None, None)
    reading = read_now(curve_of(row), max(days_since(run, now), 0.0))
    last = last_weighed(run)
    since = last.at if last else run.started_at
    wait = next_weighing_days(reading.loss_per_week_pct) if last else 0.0
    return FloorRow(run, row, stale, reading, since + timedelta(days=wait))


def floor(workshop: Workshop, *, now: datetime) -> list[FloorRow]:
    """Return every drying piece."""
    target = target_mc_pct(workshop)
    return [floor_row(run, target=target, now=now) for run in open_runs(workshop)]
