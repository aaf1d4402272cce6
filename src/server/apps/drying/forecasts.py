"""Stored forecasts: computed when next asked for, never stale, kept by fingerprint."""

import hashlib
import json
from collections.abc import Iterable
from dataclasses import asdict
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Prefetch, QuerySet

from kilncore.drying.forecast import Curve, Weighing, forecast
from kilncore.drying.from_piece import drying_piece
from kilncore.drying.model import DryingPiece, Treatment
from kilncore.wood.emc import emc_pct
from server.apps.drying.models import DryingRun, Stay, StoredForecast, WeighIn
from server.apps.pieces.queries import facts_of
from server.apps.shop.models import Workshop

__all__ = [
    "ENGINE",
    "curve_of",
    "days_since",
    "fingerprint",
    "fresh",
    "open_runs",
    "refresh",
    "stored",
    "target_mc_pct",
]

# Raise when the engine's answers change; every stored forecast is then computed anew.
ENGINE = "2"


def open_runs(workshop: Workshop) -> QuerySet[DryingRun]:
    """Return the drying runs going on, with all a forecast is computed from."""
    counted = WeighIn.objects.exclude(state="corrected")
    return (
        DryingRun.objects.filter(piece__workshop=workshop, ended_at__isnull=True)
        .select_related("piece", "piece__log", "forecast")
        .prefetch_related(
            "piece__stages",
            Prefetch("stays", Stay.objects.select_related("place")),
            Prefetch("weigh_ins", counted),
        )
    )


def days_since(run: DryingRun, at: datetime) -> float:
    """Return days from the start of drying to a moment."""
    return (at - run.started_at).total_seconds() / 86400.0


def target_mc_pct(workshop: Workshop) -> float:
    """Return the moisture at which a piece is ready for its home."""
    return round(emc_pct(workshop.home_c, rh_pct=workshop.home_rh_pct) + 1.0, 3)


def _inputs(run: DryingRun, target: float) -> list[Any]:
    piece = run.piece
    rough = next((s.notes for s in piece.stages.all() if s.kind == "rough"), {})
    return [
        ENGINE, target, piece.species, piece.form, piece.way, piece.state,
        piece.diameter_mm, piece.height_mm, run.diameter_mm, run.wall_mm, run.height_mm,
        run.bottom_mm, run.started_at.timestamp(), rough.get("outside_diameter_mm"),
        [
            (s.started_at.timestamp(), s.place.air_c, s.place.rh_pct, s.wrap, s.ends_sealed)
            for s in run.stays.all()
        ],
        [(w.at.timestamp(), w.mass_g) for w in run.weigh_ins.all() if w.state == "accepted"],
    ]  # fmt: skip


def fingerprint(run: DryingRun, target: float) -> str:
    """Return a hash of everything the forecast depends on."""
    return hashlib.sha256(json.dumps(_inputs(run, target)).encode()).hexdigest()


def fresh(run: DryingRun, target: float) -> StoredForecast | None:
    """Return the stored forecast if its inputs have not changed since, else None."""
    found = stored(run)
    return found if found and found.fingerprint == fingerprint(run, target) else None


def stored(run: DryingRun) -> StoredForecast | None:
    """Return the last stored forecast, fresh or not."""
    return getattr(run, "forecast", None)


def curve_of(row: StoredForecast) -> Curve:
    """Return the course of drying as the core reads it."""
    return Curve(**row.data["curve"])


def engine_piece(run: DryingRun) -> DryingPiece:
    """Return the engine's view of what dries in this run."""
    return drying_piece(
        facts_of(run.piece),
        diameter_mm=run.diameter_mm,
        wall_mm=run.wall_mm,
        height_mm=run.height_mm,
        bottom_mm=run.bottom_mm,
    )


def treatments_of(run: DryingRun) -> tuple[Treatment, ...]:
    """Return where it lay, as the engine wants it."""
    return tuple(
        Treatment(
            max(days_since(run, s.started_at), 0.0) if i else 0.0,
            s.place.air_c,
            s.place.rh_pct,
            s.wrap,
            s.ends_sealed,
        )
        for i, s in enumerate(run.stays.all())
    )


def refresh(runs: Iterable[DryingRun], *, target: float, now: datetime) -> list[StoredForecast]:
    """Compute and store the forecast of each run whose inputs changed."""
    return [fresh(run, target) or _compute(run, target, now) for run in runs]


def _compute(run: DryingRun, target: float, now: datetime) -> StoredForecast:
    weighings = tuple(
        Weighing(max(days_since(run, w.at), 0.0), w.mass_g)
        for w in run.weigh_ins.all()
        if w.state == "accepted"
    )
    result = forecast(
        engine_piece(run),
        treatments_of(run),
        weighings,
        now_days=max(days_since(run, now), 0.0),
        target_mc_pct=target,
    )
    with transaction.atomic():
        row, _ = StoredForecast.objects.update_or_create(
            run=run,
            defaults={
                "fingerprint": fingerprint(run, target),
                "computed_at": now,
                "data": asdict(result),
            },
        )
    run.forecast = row
    return row
