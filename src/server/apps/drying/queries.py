"""Reading the drying floor: everything from stored forecasts, nothing computed here."""

from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any

from django.http import Http404
from django.shortcuts import get_object_or_404

from kilncore.drying.forecast import Now, Ready, never_here, next_weighing_days, read_now, ready_for
from kilncore.said import Sentence
from server.apps.drying.forecasts import (
    curve_of,
    days_since,
    extras,
    fresh,
    light_runs,
    open_runs,
    stored,
    target_mc_pct,
    targets_of,
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
    target_mc_pct: float
    reached: Ready | None = None
    step_at: datetime | None = None
    step_words: dict[str, Any] | None = None

    def iso(self, span: str, which: str) -> str | None:
        """Return a span's day (ready or settled) as text, None where never."""
        moment = self.moment(span, which)
        return None if moment is None else moment.isoformat()

    def moment(self, span: str, which: str) -> datetime | None:
        """Return a span's day (low, middle, high) as a date, None where never."""
        if self.forecast is None or self.reached is None:
            return None
        if span == "ready":
            days = getattr(self.reached.days, which)
        else:
            days = self.forecast.data["settled_days"][which]
        return None if days is None else self.run.started_at + timedelta(days=days)

    @property
    def ready(self) -> bool:
        """Whether the middle of its moisture is at its target."""
        return bool(self.now and self.now.mc_pct <= self.target_mc_pct)

    @property
    def warnings(self) -> list[dict[str, Any] | Sentence]:
        """What the forecast warns of, and that this place hardly gets it there."""
        if self.forecast is None or self.reached is None:
            return []
        never = never_here(
            self.forecast.data["settles_at_pct"], target_mc_pct=self.target_mc_pct, ready=self.reached
        )
        said: list[dict[str, Any] | Sentence] = list(self.forecast.data["warnings"])
        return said if never is None or self.ready else [*said, asdict(never)]


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
    where: dict[str, Any] = {"place": getattr(run, "place_name"), "ends_sealed": getattr(run, "sealed")}  # noqa: B009
    step = extras(run).step
    where |= {"target_mc_pct": target}
    if step is not None:
        where |= {"step_at": step.due_at, "step_words": step.words}
    if row is None:
        return FloorRow(run, None, True, None, None, **read, **where)
    reading = read_now(curve_of(row), max(days_since(run, now), 0.0))
    wait = next_weighing_days(reading.loss_per_week_pct) if read["last_at"] else 0.0
    due = (read["last_at"] or run.started_at) + timedelta(days=wait)
    return FloorRow(
        run,
        row,
        fresh(run) is None,
        reading,
        due,
        **read,
        **where,
        reached=ready_for(targets_of(row), target),
    )


def floor(workshop: Workshop, *, now: datetime) -> list[FloorRow]:
    """Return every drying piece."""
    target = target_mc_pct(workshop)
    return [floor_row(run, target=target, now=now) for run in light_runs(workshop)]


def stale_tags(workshop: Workshop, tags: list[str]) -> list[str]:
    """Return the tags, of those asked for or of all, whose forecast is not up to date."""
    runs = [run for run in light_runs(workshop) if not tags or run.piece.tag in tags]
    return [run.piece.tag for run in runs if fresh(run) is None]
