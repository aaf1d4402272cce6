"""Stored forecasts: computed when next asked for, never stale, kept by fingerprint."""

import hashlib
import json
from collections.abc import Iterable
from dataclasses import asdict, dataclass
from datetime import datetime
from types import SimpleNamespace
from typing import Any

from django.db import transaction
from django.db.models import Aggregate, Count, OuterRef, Prefetch, QuerySet, Subquery, TextField, Value
from django.db.models.functions import Cast, Coalesce, Concat

from kilncore.drying.climate import Stay as CoreStay
from kilncore.drying.climate import treatments_of as core_treatments
from kilncore.drying.forecast import HORIZON_DAYS, Curve, Lived, MeterReading, Targets, Weighing, forecast
from kilncore.drying.from_piece import drying_piece
from kilncore.drying.model import Deed, DryingPiece, Go, Turning
from kilncore.wood.emc import emc_pct
from server.apps.drying import models
from server.apps.drying.models import DryingRun, Stay, StoredForecast, WeighIn
from server.apps.pieces.queries import facts_of
from server.apps.shop.models import Workshop
from server.apps.shop.queries import place_air

__all__ = [
    "ENGINE",
    "curve_of",
    "days_since",
    "extras",
    "fingerprint",
    "fresh",
    "light_runs",
    "lived_of",
    "open_runs",
    "refresh",
    "stored",
    "summed",
    "target_mc_pct",
    "targets_of",
]

# Raise when the engine's answers change; every stored forecast is then computed anew.
ENGINE = "3"


class _Joined(Aggregate):
    """Every value of a group as one text, read by the database in one go."""

    function = "GROUP_CONCAT"
    output_field = TextField()


def _per_run(rows: QuerySet[Any], text: Any) -> Subquery:
    """One text a run of all its rows: what a fingerprint needs, without loading a row."""
    grouped = rows.filter(run=OuterRef("pk")).order_by().values("run")
    return Subquery(grouped.annotate(joined=_Joined(text)).values("joined"))


def _text(*parts: Any) -> Any:
    """Columns side by side as the database writes them."""
    joined: list[Any] = []
    for part in parts:
        joined += [Cast(part, TextField()), Value("|")]
    return Concat(*joined, output_field=TextField())


def summed(workshop: Workshop) -> QuerySet[DryingRun]:
    """Return the drying runs going on with what lists and fingerprints need, one row a run.

    Adds ``weights_text`` and ``stays_text`` (inputs of the forecast), ``last_g``, ``last_at``,
    ``questioned`` and ``questioned_g``, and the present ``place_name``, ``wrap``, ``sealed``.
    """
    weights = WeighIn.objects.filter(run=OuterRef("pk"))
    counted = weights.filter(state="accepted").order_by("-at", "-id")
    asked = weights.filter(state="questioned").order_by("-at", "-id")
    present = Stay.objects.filter(run=OuterRef("pk")).order_by("-started_at", "-id")
    accepted = WeighIn.objects.filter(state="accepted")
    air = ("started_at", "place__air_c", "place__rh_pct", "place__climate_stamp", "wrap", "ends_sealed")
    return (
        DryingRun.objects.filter(piece__workshop=workshop, ended_at__isnull=True)
        .select_related("piece__workshop", "forecast")
        .annotate(
            weights_text=_per_run(accepted, _text("at", "mass_g")),
            stays_text=_per_run(Stay.objects.all(), _text(*air)),
            last_g=Subquery(counted.values("mass_g")[:1]),
            last_at=Subquery(counted.values("at")[:1]),
            questioned=Coalesce(
                Subquery(asked.order_by().values("run").annotate(n=Count("id")).values("n")), 0
            ),
            questioned_g=Subquery(asked.values("mass_g")[:1]),
            place_name=Subquery(present.values("place__name")[:1]),
            wrap=Subquery(present.values("wrap")[:1]),
            sealed=Subquery(present.values("ends_sealed")[:1]),
        )
    )


_PIECE = (
    "id", "tag", "name", "species", "form", "way", "state", "diameter_mm", "height_mm",
    "finish_diameter_mm", "finished_at",
)  # fmt: skip
_RUN = ("id", "piece_id", "started_at", "diameter_mm", "wall_mm", "height_mm", "bottom_mm", "brings")
_SUMS = (
    "weights_text", "stays_text", "last_g", "last_at", "questioned", "questioned_g",
    "place_name", "wrap", "sealed",
)  # fmt: skip
_KEEP = 5000
_parsed: dict[int, SimpleNamespace] = {}


def light_runs(workshop: Workshop) -> list[Any]:
    """Return the drying runs going on as plain objects with a run's and its piece's own names.

    For lists of hundreds: no model is built, and a stored forecast is parsed once and then
    remembered by its fingerprint, so that only new ones are read from the database.
    """
    names = (*_RUN, *_SUMS, *(f"piece__{n}" for n in _PIECE), "forecast__id", "forecast__fingerprint")
    split = len(_RUN) + len(_SUMS)
    runs, marks = [], {}
    for values in summed(workshop).values_list(*names):
        run = SimpleNamespace(**dict(zip((*_RUN, *_SUMS), values[:split], strict=True)))
        run.piece = SimpleNamespace(**dict(zip(_PIECE, values[split:-2], strict=True)))
        run.forecast = None
        runs.append((run, values[-2]))
        if values[-2] is not None:
            marks[values[-2]] = values[-1]
    found = _remembered(marks)
    extra = extras_of([run.id for run, _ in runs])
    for run, key in runs:
        run.forecast, run.extras = found.get(key), extra.get(run.id, NO_EXTRAS)
    return [run for run, _ in runs]


@dataclass(frozen=True, slots=True)
class Extras:
    """What few runs have, read apart so that a list of hundreds asks for it once.

    Texts of meter readings, goes and turnings as a fingerprint takes them, and the next step
    of the way a piece is on.
    """

    texts: tuple[str, ...] = ("", "", "")
    step: models.PlanStep | None = None


NO_EXTRAS = Extras()
_EXTRA: tuple[tuple[Any, tuple[str, ...]], ...] = (
    (models.MeterReading, ("at", "mc_pct")),
    (models.Go, ("at", "power_w", "seconds")),
    (models.TurnedAgain, ("at", "wall_mm", "bottom_mm", "before_g", "after_g")),
)


def extras_of(run_ids: list[int]) -> dict[int, Extras]:
    """Return the extras of the runs that have any."""
    texts: dict[int, list[str]] = {}
    for place, (model, fields) in enumerate(_EXTRA):
        for run_id, *values in model.objects.filter(run__in=run_ids).values_list("run_id", *fields):
            row = texts.setdefault(run_id, ["", "", ""])
            row[place] += "|".join(str(v) for v in values) + ","
    steps: dict[int, models.PlanStep] = {}
    for step in models.PlanStep.objects.filter(run__in=run_ids, done_at__isnull=True):
        steps.setdefault(step.run_id, step)
    return {key: Extras(tuple(texts.get(key, NO_EXTRAS.texts)), steps.get(key)) for key in {*texts, *steps}}


def extras(run: DryingRun) -> Extras:
    """Return a run's extras, read now where no list has read them."""
    found: Extras | None = getattr(run, "extras", None)
    return found if found is not None else extras_of([run.id]).get(run.id, NO_EXTRAS)


def _remembered(marks: dict[int, str]) -> dict[int, SimpleNamespace]:
    """Return the stored forecasts by id, reading only those not seen with that fingerprint."""
    unread = [key for key, mark in marks.items() if key not in _parsed or _parsed[key].fingerprint != mark]
    if len(_parsed) > _KEEP:
        _parsed.clear()
        unread = list(marks)
    for row in StoredForecast.objects.filter(id__in=unread):
        curve = Curve(**row.data["curve"])
        _parsed[row.id] = SimpleNamespace(
            fingerprint=row.fingerprint, data=row.data, curve=curve, targets=_targets(row)
        )
    return {key: _parsed[key] for key in marks if key in _parsed}


def open_runs(workshop: Workshop) -> QuerySet[DryingRun]:
    """Return the drying runs going on, with every row a forecast is computed from."""
    counted = WeighIn.objects.exclude(state="corrected")
    return summed(workshop).prefetch_related(
        "piece__stages",
        Prefetch("stays", Stay.objects.select_related("place")),
        Prefetch("weigh_ins", counted),
        "meter_readings",
        "goes",
        "turnings",
    )


def days_since(run: DryingRun, at: datetime) -> float:
    """Return days from the start of drying to a moment."""
    return (at - run.started_at).total_seconds() / 86400.0


def target_mc_pct(workshop: Workshop) -> float:
    """Return the moisture at which a piece is ready for its home."""
    return round(emc_pct(workshop.home_c, rh_pct=workshop.home_rh_pct) + 1.0, 3)


def _inputs(run: DryingRun) -> list[Any]:
    """All a forecast depends on; ``run`` comes from ``summed`` or ``open_runs``.

    The home's air is not among them: a forecast tells when every moisture is reached.
    """
    piece = run.piece
    texts: list[str | None] = [getattr(run, f"{n}_text") for n in ("weights", "stays")] + [*extras(run).texts]
    return [
        ENGINE, piece.species, piece.form, piece.way, piece.state,
        piece.diameter_mm, piece.height_mm, run.diameter_mm, run.wall_mm, run.height_mm,
        run.bottom_mm, run.started_at.timestamp(), run.brings, *(sorted((t or "").split(",")) for t in texts),
    ]  # fmt: skip


def fingerprint(run: DryingRun) -> str:
    """Return a hash of everything the forecast depends on."""
    return hashlib.sha256(json.dumps(_inputs(run)).encode()).hexdigest()


def fresh(run: DryingRun) -> StoredForecast | None:
    """Return the stored forecast if its inputs have not changed since, else None."""
    found = stored(run)
    return found if found and found.fingerprint == fingerprint(run) else None


def stored(run: DryingRun) -> StoredForecast | None:
    """Return the last stored forecast, fresh or not."""
    return getattr(run, "forecast", None)


def curve_of(row: StoredForecast) -> Curve:
    """Return the course of drying as the core reads it."""
    return getattr(row, "curve", None) or Curve(**row.data["curve"])


def targets_of(row: StoredForecast) -> Targets:
    """Return when each moisture is reached, as the core reads it."""
    return getattr(row, "targets", None) or _targets(row)


def _targets(row: StoredForecast) -> Targets:
    return Targets(**{name: tuple(values) for name, values in row.data["targets"].items()})


def engine_piece(run: DryingRun) -> DryingPiece:
    """Return the engine's view of what dries in this run."""
    return drying_piece(
        facts_of(run.piece),
        diameter_mm=run.diameter_mm,
        wall_mm=run.wall_mm,
        height_mm=run.height_mm,
        bottom_mm=run.bottom_mm,
        brings=run.brings,
    )


def lived_of(run: DryingRun, *, until_days: float) -> Lived:
    """Return what a run has been through, as the engine wants it; ``run`` from ``open_runs``."""

    def day(at: datetime) -> float:
        return max(days_since(run, at), 0.0)

    stays = tuple(
        CoreStay(day(s.started_at) if i else 0.0, place_air(s.place), s.wrap, s.ends_sealed)
        for i, s in enumerate(run.stays.all())
    )
    deeds: list[Deed] = [Go(day(g.at), g.power_w, g.seconds) for g in run.goes.all()]
    deeds += [Turning(day(t.at), t.wall_mm, t.bottom_mm, t.before_g, t.after_g) for t in run.turnings.all()]
    return Lived(
        treatments=core_treatments(
            stays,
            until_days=until_days,
            day_of_year=float(run.started_at.timetuple().tm_yday),
            clock_days=run.started_at.timestamp() / 86400.0,
        ),
        weighings=tuple(Weighing(day(w.at), w.mass_g) for w in run.weigh_ins.all() if w.state == "accepted"),
        meter=tuple(MeterReading(day(m.at), m.mc_pct) for m in run.meter_readings.all()),
        deeds=tuple(deeds),
    )


def refresh(runs: Iterable[DryingRun], *, now: datetime) -> list[StoredForecast]:
    """Compute and store the forecast of each run whose inputs changed."""
    return [fresh(run) or _compute(run, now) for run in runs]


# What a stored forecast leaves out: it belongs to one home, and the table holds all.
_HOME = ("ready_days", "never_pct", "target_mc_pct")


def _compute(run: DryingRun, now: datetime) -> StoredForecast:
    day = max(days_since(run, now), 0.0)
    lived = lived_of(run, until_days=day + HORIZON_DAYS)
    result = asdict(
        forecast(
            engine_piece(run),
            lived.treatments,
            lived.weighings,
            now_days=day,
            target_mc_pct=target_mc_pct(run.piece.workshop),
            meter=lived.meter,
            deeds=lived.deeds,
        )
    )
    with transaction.atomic():
        row, _ = StoredForecast.objects.update_or_create(
            run=run,
            defaults={
                "fingerprint": fingerprint(run),
                "computed_at": now,
                "data": {k: v for k, v in result.items() if k not in _HOME},
            },
        )
    run.forecast = row
    return row
