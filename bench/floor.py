"""A yard of hundreds of drying pieces, made from the demo by copying it."""

from datetime import timedelta
from typing import Any
from uuid import uuid4

from django.utils import timezone

from server.apps.demo.services import build_demo
from server.apps.drying.forecasts import open_runs, stored
from server.apps.drying.models import DryingRun, Stay, StoredForecast, WeighIn
from server.apps.pieces.models import Stage
from server.apps.shop.models import Workshop


def big_yard(pieces: int) -> Workshop:
    """Return the demo workshop with so many drying pieces, forecasts included."""
    yard = build_demo(now=timezone.now())
    sources = list(open_runs(yard))
    for i in range(max(0, pieces - len(sources))):
        _copy(sources[i % len(sources)], tag=f"X-{i}", key=i)
    return yard


def _copied(row: Any, **change: Any) -> Any:
    values = {f.attname: getattr(row, f.attname) for f in row._meta.concrete_fields if not f.primary_key}
    return type(row)(**{**values, **change})


def _copy(run: DryingRun, *, tag: str, key: int) -> None:
    piece = _copied(run.piece, tag=tag, name=f"Copy {key}")
    piece.save()
    Stage.objects.bulk_create(_copied(s, piece_id=piece.id) for s in run.piece.stages.all())
    twin = _copied(run, piece_id=piece.id)
    twin.save()
    Stay.objects.bulk_create(_copied(s, run_id=twin.id) for s in run.stays.all())
    WeighIn.objects.bulk_create(
        _copied(w, run_id=twin.id, key=uuid4()) for w in WeighIn.objects.filter(run=run, corrects=None)
    )
    forecast = stored(run)
    if forecast is not None:
        StoredForecast.objects.create(
            run=twin, fingerprint=forecast.fingerprint, computed_at=forecast.computed_at, data=forecast.data
        )


def moments(count: int) -> list[str]:
    """So many moments of the last hour, oldest first."""
    now = timezone.now()
    return [(now - timedelta(seconds=3600.0 * (1 - i / count))).isoformat() for i in range(count)]
