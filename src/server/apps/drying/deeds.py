"""What is done to a piece while it dries: metered, heated, turned again, split, kept another way."""

from dataclasses import asdict
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

import numpy as np
from django.db import transaction

from kilncore.drying.climate import Stay as CoreStay
from kilncore.drying.climate import treatments_of
from kilncore.drying.diffusion import cell_fractions
from kilncore.drying.forecast import HORIZON_DAYS, Lived, posterior, read_now
from kilncore.drying.microwave import GoDone, MicrowavePlan, microwave_plan
from kilncore.drying.model import Go as CoreGo
from kilncore.drying.model import Treatment, Turning
from kilncore.drying.whatif import Block, WayAhead, ways_ahead
from kilncore.errors import Impossible, require_range
from kilncore.rules.wall import strains
from kilncore.wood.meter import corrected_pct
from kilncore.wood.moisture import FSP_PCT
from server.apps.drying.forecasts import curve_of, days_since, engine_piece, lived_of, stored, target_mc_pct
from server.apps.drying.models import DryingRun, Go, MeterReading, PlanStep, Stay, TurnedAgain
from server.apps.drying.services import end_run, move, start_run
from server.apps.pieces.models import Event, Piece
from server.apps.pieces.queries import facts_of, free_tag
from server.apps.pieces.services import begin_piece, not_future
from server.apps.shop.models import Place, Workshop
from server.apps.shop.queries import place_air

__all__ = [
    "choose_way", "finish_go", "meter", "microwave", "pair", "split", "start_go", "step_done",
    "turn_again", "ways_of",
]  # fmt: skip


def _write(run: DryingRun, verb: str, words: str, at: datetime, by: Any, **data: Any) -> None:
    Event.objects.create(piece=run.piece, at=at, verb=verb, words=words, data=data, by=by)


def _within(run: DryingRun, at: datetime, now: datetime) -> None:
    not_future(at, now=now, field="at")
    if at < run.started_at:
        raise Impossible("before-drying", "at", "Drying began later than that.")


@transaction.atomic
def meter(
    run: DryingRun,
    *,
    key: UUID,
    shown_pct: float,
    at: datetime,
    now: datetime,
    by: Any,
    wood_c: float | None = None,
    corrected: bool = False,
) -> MeterReading:
    """Keep what the moisture meter showed, once; corrected for the wood unless it was already."""
    found = MeterReading.objects.filter(run=run, key=key).first()
    if found is not None:
        return found
    _within(run, at, now)
    adds = 0.0 if corrected else float(run.piece.workshop.meter_corrections.get(run.piece.species, 0.0))
    mc = corrected_pct(shown_pct, wood_c=20.0 if wood_c is None else wood_c, wood_adds_pct=adds)
    return MeterReading.objects.create(
        run=run, key=key, at=at, shown_pct=shown_pct, mc_pct=round(mc, 2), by=by
    )


def _mc_now(run: DryingRun, at: datetime) -> tuple[float, float]:
    """Moisture and expected weight by the stored forecast, by the tables where there is none."""
    row = stored(run)
    if row is None:
        engine = engine_piece(run)
        mc = engine.green_mc_pct.typical
        return mc, engine.dry_mass_g * (1 + mc / 100.0)
    reading = read_now(curve_of(row), max(days_since(run, at), 0.0))
    return reading.mc_pct, reading.mass_g


def microwave(
    run: DryingRun, *, power_w: float, mass_g: float | None, metal: bool, now: datetime
) -> MicrowavePlan:
    """Return the next go in the oven for a drying piece."""
    mc, expected = _mc_now(run, now)
    done = tuple(GoDone(g.seconds, g.power_w, g.before_g, g.after_g) for g in run.goes.all())
    if mass_g is None:
        mass_g = (done[-1].after_g or done[-1].before_g) if done else expected
    row = stored(run)
    if row is not None:  # what it weighs now says how wet it is, better than the course
        mc = max(100.0 * (mass_g / row.data["dry_mass_g"]["middle"] - 1.0), 0.0)
    engine = engine_piece(run)
    return microwave_plan(
        mass_g,
        power_w=power_w,
        mc_pct=mc,
        target_mc_pct=target_mc_pct(run.piece.workshop),
        wall_mm=max(engine.wall_mm, engine.foot_mm),
        species_key=run.piece.species,
        done=done,
        metal=metal,
        holds_pith=bool(run.piece.blank and run.piece.blank.holds_pith),
    )


@transaction.atomic
def start_go(
    run: DryingRun, *, key: UUID, power_w: float, seconds: float, before_g: float, at: datetime, now: datetime
) -> Go:
    """Note a go as begun, once; the one before it must have been weighed cold."""
    found = Go.objects.filter(run=run, key=key).first()
    if found is not None:
        return found
    _within(run, at, now)
    CoreGo(0.0, power_w, seconds)
    require_range("before_g", before_g, 5.0, 6000.0)
    if run.goes.filter(after_g__isnull=True).exists():
        raise Impossible(
            "weigh-first",
            "before_g",
            "Weigh it cold after the last go first; that weight stops the goes in time.",
        )
    return Go.objects.create(run=run, key=key, at=at, power_w=power_w, seconds=seconds, before_g=before_g)


@transaction.atomic
def finish_go(go: Go, *, after_g: float) -> Go:
    """Note what it weighed once cold."""
    require_range("after_g", after_g, 5.0, 6000.0)
    if after_g > go.before_g:
        raise Impossible(
            "gained",
            "after_g",
            "It cannot weigh more after the go ({after_g}) than before ({before_g}).",
            {"after_g": after_g, "before_g": go.before_g},
        )
    go.after_g = after_g
    go.save(update_fields=["after_g"])
    return go


@transaction.atomic
def turn_again(
    run: DryingRun,
    *,
    wall_mm: float,
    bottom_mm: float,
    before_g: float | None,
    after_g: float,
    at: datetime,
    now: datetime,
    by: Any,
) -> TurnedAgain:
    """Note that it was turned again while drying: the curve jumps and stays honest.

    Where it was not weighed before, what it should have weighed stands in.
    """
    _within(run, at, now)
    before = before_g if before_g is not None else round(_mc_now(run, at)[1], 1)
    wall = run.turnings.last().wall_mm if run.turnings.exists() else engine_piece(run).wall_mm  # type: ignore[union-attr]
    if wall_mm > wall + 0.5:
        raise Impossible(
            "thicker-after",
            "wall_mm",
            "The wall cannot be thicker after turning ({wall_mm}) than before ({before_mm}).",
            {"wall_mm": wall_mm, "before_mm": wall},
        )
    Turning(0.0, wall_mm, bottom_mm, before, after_g)
    row = TurnedAgain.objects.create(
        run=run, at=at, wall_mm=wall_mm, bottom_mm=bottom_mm, before_g=before, after_g=after_g
    )
    _write(run, "turned-again", "Turned again while drying", at, by, wall_mm=wall_mm, after_g=after_g)
    return row


@transaction.atomic
def split(
    run: DryingRun, *, parts: list[dict[str, Any]], at: datetime, now: datetime, by: Any
) -> list[Piece]:
    """End a run by splitting its piece: each part dries on with what was learnt.

    ``parts`` name diameter_mm, height_mm, wall_mm, bottom_mm, and mass_g where weighed.
    """
    _within(run, at, now)
    if len(parts) < 2:
        raise Impossible("one-part", "parts", "Splitting gives two parts or more; one part was turned again.")
    brings = _brings(run, at)
    stay = run.stays.last()
    if stay is None:
        raise Impossible("nowhere", "tag", "It lies nowhere yet: say where first.")
    whole = run.piece
    made = []
    for part in parts:
        piece = begin_piece(
            whole.workshop, now=at, by=by, tag=part.get("tag") or free_tag(whole.workshop), log=whole.log,
            blank=whole.blank, parent=whole, species=whole.species, form=whole.form, way=whole.way,
            state=whole.state, name=part.get("name", ""), diameter_mm=part["diameter_mm"],
            height_mm=part["height_mm"], finish_diameter_mm=0.93 * part["diameter_mm"],
            finish_wall_mm=min(whole.finish_wall_mm, part["diameter_mm"] / 12.0), conditions=whole.conditions,
        )  # fmt: skip
        _to_drying(piece, at=at, now=now, by=by)
        child = start_run(
            Piece.objects.get(pk=piece.pk), at=at, place=stay.place, wrap=stay.wrap, ends_sealed=stay.ends_sealed,
            by=by, mass_g=part.get("mass_g"), key=uuid4(), diameter_mm=part["diameter_mm"],
            wall_mm=part["wall_mm"], height_mm=part["height_mm"], bottom_mm=part["bottom_mm"], brings=brings,
        )  # fmt: skip
        made.append(child.piece)
    end_run(run, at=at)
    whole.stages.filter(state="active").update(state="waiting")
    whole.finished_at, whole.became = at, "split"
    whole.save(update_fields=["finished_at", "became"])
    _write(run, "split", "Split into " + ", ".join(p.tag for p in made), at, by, parts=[p.tag for p in made])
    return made


def _to_drying(piece: Piece, *, at: datetime, now: datetime, by: Any) -> None:
    """Bring a part to the stage its whole was at: drying."""
    kinds = [s.kind for s in piece.stages.all()]
    if "dry" not in kinds:
        raise Impossible("no-drying", "tag", "Its way has no drying; there is nothing to go on with.")
    for kind in kinds[: kinds.index("dry")]:
        stage = piece.stages.get(kind=kind)
        stage.state, stage.done_at = "done", at
        stage.save(update_fields=["state", "done_at"])
    piece.stages.filter(kind="dry").update(state="active")


def _brings(run: DryingRun, at: datetime) -> dict[str, Any]:
    """What the weights have taught of a piece, for the parts cut from it."""
    day = max(days_since(run, at), 0.05)
    post = posterior(engine_piece(run), lived_of(run, until_days=day + 1.0), until_days=day)
    mean = post.run.mean[-1]
    mc = float(post.weights @ mean)
    ln_k = float(post.weights @ post.unknowns.ln_k)
    spread = float(np.sqrt(post.weights @ (post.unknowns.ln_k - ln_k) ** 2))
    wall = post.run.last[:, :, 0] @ post.weights  # the wall's cells, middle of the draws
    profile = wall / float(wall @ cell_fractions())
    return {
        "mc_pct": round(100 * mc, 2),
        "mc_sd_pct": round(100 * float(np.sqrt(post.weights @ (mean - mc) ** 2)), 2),
        "ln_k": round(ln_k, 4),
        "ln_k_sd": round(max(spread, 0.1), 4),
        "profile": [round(float(v), 5) for v in profile],
    }


def _shelf(workshop: Workshop, stay: Stay | None) -> Place:
    place = stay.place if stay else Place.objects.filter(workshop=workshop).first()
    if place is None:
        raise Impossible("no-place", "place_id", "There is no place to lie yet: add one under Shop.")
    return place


def _shelf_air(place: Place, now: datetime) -> tuple[Treatment, ...]:
    """Return the air of a place from now on, by season where it is known so."""
    return treatments_of(
        (CoreStay(0.0, place_air(place), "open-shelf"),),
        until_days=HORIZON_DAYS,
        day_of_year=float(now.timetuple().tm_yday),
        clock_days=now.timestamp() / 86400.0,
    )


def _oval_mm(piece: Piece, diameter_mm: float, target: float) -> float:
    found = strains(
        facts_of(piece).wood, radius_mm=diameter_mm / 2.0, mc_pct=min(target, FSP_PCT), pith_mm=piece.pith_mm
    )
    return diameter_mm * max(found.across_pct - found.along_pct, 0.0) / 100.0


def ways_of(
    piece: Piece, run: DryingRun | None, *, place: Place | None, now: datetime
) -> tuple[WayAhead, ...]:
    """Return the ways of keeping a piece from now on; also for one that is still a blank."""
    workshop = piece.workshop
    target = target_mc_pct(workshop)
    if run is not None:
        day = max(days_since(run, now), 0.0)
        shelf = place or _shelf(workshop, run.stays.last())
        return ways_ahead(
            engine_piece(run),
            lived_of(run, until_days=day + HORIZON_DAYS),
            now_days=day,
            target_mc_pct=target,
            shelf=_shelf_air(shelf, now),
            oval_mm=_oval_mm(piece, run.diameter_mm or piece.diameter_mm, target),
        )
    if piece.finished_at or piece.stages.filter(kind="dry", state="done").exists():
        raise Impossible("dried", "tag", "It has dried already.")
    shelf = place or _shelf(workshop, None)
    hypothetical = DryingRun(piece=piece, started_at=now)
    lived = Lived(_shelf_air(shelf, now))
    return ways_ahead(
        engine_piece(hypothetical),
        lived,
        now_days=0.0,
        target_mc_pct=target,
        shelf=_shelf_air(shelf, now),
        oval_mm=_oval_mm(piece, piece.diameter_mm, target),
        block=Block(piece.diameter_mm, piece.height_mm, piece.diameter_mm),
    )


@transaction.atomic
def choose_way(run: DryingRun, way: WayAhead, *, place: Place, now: datetime, by: Any) -> list[PlanStep]:
    """Take a way: what it asks for now is done or due, the rest stands in Today and the calendar."""
    run.steps.filter(done_at__isnull=True).delete()
    made = []
    for step in way.steps:
        due = now + timedelta(days=step.in_days)
        row = PlanStep.objects.create(
            run=run, due_at=due, kind=step.kind, wrap=step.wrap, ends_sealed=step.ends_sealed,
            words=asdict(step.words), way=way.key,
        )  # fmt: skip
        if step.kind == "move" and step.in_days <= 0.0:
            move(run, place=place, wrap=step.wrap, ends_sealed=step.ends_sealed, at=now, now=now, by=by)
            row.done_at = now
            row.save(update_fields=["done_at"])
        made.append(row)
    _write(run, "way-chosen", way.label, now, by, way=way.key)
    return made


@transaction.atomic
def step_done(step: PlanStep, *, skip: bool, now: datetime, by: Any) -> PlanStep:
    """Mark a step of a plan as done (a move is then noted as well) or as left out."""
    if step.done_at is not None:
        return step
    step.done_at = now
    step.save(update_fields=["done_at"])
    stay = step.run.stays.last()
    if step.kind == "move" and not skip and stay is not None:
        move(step.run, place=stay.place, wrap=step.wrap, ends_sealed=step.ends_sealed, at=now, now=now, by=by)
    return step


@transaction.atomic
def pair(run: DryingRun, other: DryingRun | None) -> DryingRun:
    """Set a piece beside its control, or let go of it."""
    if other is not None and other.pk == run.pk:
        raise Impossible("own-control", "tag", "A piece cannot be its own control.")
    run.control_of = other
    run.save(update_fields=["control_of"])
    return run
