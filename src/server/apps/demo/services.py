"""Builds the demo workshop by the app's own verbs, with histories the core simulates."""

from datetime import datetime, timedelta
from uuid import NAMESPACE_URL, uuid5

import numpy as np
from django.contrib.auth import get_user_model
from django.db import transaction

from kilncore.drying.model import Unknowns, simulate
from kilncore.route.facts import default_finish_mm
from kilncore.solids.design import Design, Foot
from kilncore.solids.families import Sizes, family_handles
from kilncore.solids.walls import WallPlan
from kilncore.wood.moisture import shrinkage_pct
from kilncore.wood.species import species
from kilndevices.instruments import Air, SimulatedClimateLogger, SimulatedScale
from server.apps.bench.services import complete
from server.apps.demo.scenario import LOGS, PIECES, PLACES, TOOLS, DemoPiece
from server.apps.drying.deeds import choose_way, meter, pair, ways_of
from server.apps.drying.forecasts import engine_piece, lived_of, open_runs, refresh
from server.apps.drying.models import DryingRun
from server.apps.drying.services import accept_weight, move, weigh
from server.apps.lathe.services import keep_design, note_speed, read_calliper
from server.apps.pieces.models import Piece, Stage
from server.apps.pieces.services import begin_piece, give_coat
from server.apps.shop.models import Place, Plate, Workshop
from server.apps.shop.services import (
    add_readings,
    create_workshop,
    save_instruments,
    save_lathe,
    save_place,
    save_tool,
)
from server.apps.yard.services import take_in_log

__all__ = ["DEMO_USER", "build_demo", "demo_workshop", "remove_demo"]

DEMO_USER = "canal-yard"
# Where `make devices` answers.
SCALE_URL, METER_URL = "socket://127.0.0.1:8741", "socket://127.0.0.1:8743"
LOGGER_URL = "http://127.0.0.1:8742/air.json"


def demo_workshop() -> Workshop | None:
    """Return the demo workshop if it is there."""
    return Workshop.objects.filter(is_demo=True).first()


@transaction.atomic
def remove_demo() -> None:
    """Remove the demo workshop and its person."""
    for workshop in Workshop.objects.filter(is_demo=True):
        workshop.pieces.all().delete()
        workshop.delete()
    get_user_model().objects.filter(username=DEMO_USER).delete()


@transaction.atomic
def build_demo(*, now: datetime, seed: int = 7) -> Workshop:
    """Build the demo afresh, dated back from now, and its forecasts."""
    remove_demo()
    workshop = create_workshop(name="Canal yard", username=DEMO_USER, password=None, is_demo=True)
    Place.objects.filter(workshop=workshop).delete()
    places = [Place.objects.create(workshop=workshop, name=n, air_c=c, rh_pct=h) for n, c, h in PLACES]
    _equip(workshop)
    for ago, known in LOGS:
        take_in_log(workshop, today=now.date(), felled_on=now.date() - timedelta(days=ago), **known)
    for i, plan in enumerate(PIECES):
        _build(workshop, plan, places, now=now, seed=seed * 100 + i)
    _air(places, now)
    _deeds(workshop, now)
    _at_the_lathe(workshop, now)
    refresh(open_runs(workshop), now=now)
    return workshop


def _at_the_lathe(workshop: Workshop, now: datetime) -> None:
    """Forms drawn for pieces in hand, callipers read on one, speeds that were used."""
    drawn = (
        (
            "27",
            "closed",
            Sizes(150.0, 190.0, 70.0),
            {"belly": 0.55, "mouth": 0.36},
            WallPlan("even", 6.0, 12.0),
        ),
        ("23", "hemisphere", Sizes(260.0, 100.0, 95.0), {"fullness": 2.2}, WallPlan("heavy", 6.0, 12.0)),
        ("29", "square", Sizes(225.0, 55.0, 80.0), {"body": 0.8, "lift": 0.25}, WallPlan("even", 6.0, 8.0)),
    )
    for tag, family, sizes, sliders, plan in drawn:
        half = sizes.width_mm / 2.0 if family == "square" else None
        foot = Foot("tenon", 0.75 * sizes.foot_mm, 7.0)
        design = Design(family_handles(family, sizes, sliders), plan=plan, half_mm=half, foot=foot)
        keep_design(workshop.pieces.get(tag=tag), design, now=now, by=None)
    for z_mm, wall_mm in ((170.0, 6.2), (140.0, 7.4), (100.0, 9.6)):
        read_calliper(workshop.pieces.get(tag="27"), z_mm=z_mm, wall_mm=wall_mm, now=now, by=None)
    for tag, stage, swing, rpm, felt, words, ago in (
        ("20", "finish", 230.0, 950.0, "calm", "", 1),
        ("21", "finish", 180.0, 1200.0, "chatters", "rim rang until sharpened", 9),
        ("13", "rough", 360.0, 420.0, "hums", "bark side heavy", 5),
    ):
        note_speed(
            workshop,
            piece=workshop.pieces.get(tag=tag),
            stage=stage,
            swing_mm=swing,
            speed_rpm=rpm,
            felt=felt,
            words=words,
            now=now - timedelta(days=ago),
        )


def _air(places: list[Place], now: datetime) -> None:
    """The bag corner has a logger, the loft its seasons."""
    corner, loft = places[0], places[1]
    logger = SimulatedClimateLogger(3, mean=Air(15.5, 62.0), swing_c=1.5, swing_rh_pct=4.0)
    rows = []
    for quarter in range(4 * 120, 0, -1):
        at = now - timedelta(hours=6 * quarter)
        air = logger.read(at.timestamp() / 86400.0)
        cooler = 3.0 * (120 - quarter / 4) / 120
        rows.append((at, round(air.air_c + 1.5 - cooler, 1), round(air.rh_pct + 2.0 * cooler - 3.0, 1)))
    add_readings(corner, rows)
    corner.logger_url = LOGGER_URL
    corner.save(update_fields=["logger_url"])
    save_place(
        loft.workshop, place=loft, name=loft.name, air_c=loft.air_c, rh_pct=loft.rh_pct,
        seasons={"winter": (13.0, 52.0), "spring": (16.0, 50.0), "summer": (24.0, 46.0), "autumn": (18.0, 52.0)},
    )  # fmt: skip


def _deeds(workshop: Workshop, now: datetime) -> None:
    """Instruments, a pair under test, a meter reading, and a way taken."""
    save_instruments(
        workshop, {"scale_url": SCALE_URL, "meter_url": METER_URL, "meter_corrections": {"elm-wych": 0.8}}
    )
    runs = {run.piece.tag: run for run in open_runs(workshop)}
    pair(runs["26"], runs["25"])
    meter(runs["17"], key=uuid5(NAMESPACE_URL, "yard-kiln:meter:17"), shown_pct=27.0,
          at=now - timedelta(days=6), now=now, by=None)  # fmt: skip
    for tag in ("15",):
        ways = {w.key: w for w in ways_of(runs[tag].piece, runs[tag], place=None, now=now)}
        stay = runs[tag].stays.last()
        if stay is not None:
            choose_way(runs[tag], ways["bag"], place=stay.place, now=now, by=None)


def _equip(workshop: Workshop) -> None:
    lathe = workshop.lathes.first()
    if lathe is not None:
        lathe.name, lathe.swing_mm, lathe.max_rpm, lathe.mass_kg = "Long bed", 420, 2800, 190
        lathe.power_w = 1100
        lathe.save()
    save_lathe(workshop, name="Little belt lathe", swing_mm=300, min_rpm=250, max_rpm=2600, steps="250, 450, 900, 1500, 2600", mass_kg=38)  # fmt: skip
    for kind, name, sizes in TOOLS:
        save_tool(workshop, kind=kind, name=name, sizes=sizes)
    Plate.objects.create(
        workshop=workshop, name="150 mm faceplate", kind="faceplate", low_mm=150, high_mm=420
    )
    Plate.objects.create(
        workshop=workshop, name="button jaws", kind="expanding-jaws", low_mm=60, high_mm=280, rated_rpm=600
    )


def _build(workshop: Workshop, plan: DemoPiece, places: list[Place], *, now: datetime, seed: int) -> None:
    first = plan.roughed if plan.roughed is not None else max((d for _, d in plan.done), default=2.0)
    log = workshop.logs.filter(number=plan.log).first() if plan.log else None
    piece = begin_piece(
        workshop, now=now - timedelta(days=first + 0.5), by=None, tag=plan.tag, name=plan.name,
        species=plan.species, form=plan.form, way=plan.way, state=plan.state,
        diameter_mm=plan.diameter_mm, height_mm=plan.height_mm, purpose=plan.purpose,
        finish_diameter_mm=default_finish_mm(plan.diameter_mm, state=plan.state), finish_wall_mm=6.0,
        conditions=plan.conditions, log_id=log.id if log else None,
    )  # fmt: skip
    if plan.roughed is not None:
        _rough(piece, plan, now)
        _dry(piece, plan, places, now=now, seed=seed)
    for kind, ago in plan.done:
        _stage_done(piece, plan, kind, now - timedelta(days=ago), now)
    for ago in plan.coats:
        stage = piece.stages.get(kind="coat")
        if stage.coats.count() < len(plan.coats) and stage.state == "active":
            give_coat(stage, at=now - timedelta(days=ago), now=now, by=None)


def _rough(piece: Piece, plan: DemoPiece, now: datetime) -> None:
    at = now - timedelta(days=plan.roughed or 0.0)
    outside = plan.diameter_mm - 8.0
    if piece.way == "bored-branch":
        _finish(
            piece,
            "bore",
            at,
            now,
            outside_diameter_mm=outside,
            wall_mm=plan.wall_mm,
            height_mm=plan.height_mm - 6,
        )
        return
    if piece.way == "once-green":
        _finish(piece, "turn-green", at - timedelta(hours=2), now, final_diameter_mm=outside,
                final_wall_mm=plan.wall_mm, final_height_mm=plan.height_mm - 5, bottom_mm=10.0)  # fmt: skip
        _finish(piece, "sand", at - timedelta(hours=1), now)
        _finish(piece, "foot", at, now)
        return
    _finish(piece, "rough", at, now, outside_diameter_mm=outside, wall_mm=plan.wall_mm,
            height_mm=plan.height_mm - 6, bottom_mm=round(plan.wall_mm * 1.2), speed_rpm=600.0)  # fmt: skip


def _finish(piece: Piece, kind: str, at: datetime, now: datetime, **notes: float | str) -> None:
    stage = Stage.objects.select_related("piece__workshop").get(piece=piece, kind=kind)
    complete(stage, notes=notes, at=at, now=now, by=None)


def _stage_done(piece: Piece, plan: DemoPiece, kind: str, at: datetime, now: datetime) -> None:
    """Mark a later stage done with plausible figures."""
    wood = species(piece.species)
    across = 1 - shrinkage_pct(wood.shrink_tangential_pct.typical, mc_pct=9.0) / 100
    notes: dict[str, float | str] = {}
    if kind == "turn":
        outside = plan.diameter_mm - 8.0
        notes = {
            "long_mm": outside,
            "short_mm": round(outside * across),
            "wall_long_mm": round(plan.wall_mm * across),
            "wall_short_mm": round(plan.wall_mm * across),
            "final_diameter_mm": round(outside * across - 6),
            "final_wall_mm": 6.5,
            "final_height_mm": plan.height_mm - 22,
            "bottom_mm": 11.0,
        }
    elif kind == "turn-dry":
        notes = {
            "final_diameter_mm": plan.diameter_mm - 10,
            "final_wall_mm": 6.0,
            "final_height_mm": plan.height_mm - 14,
            "bottom_mm": 10.0,
        }
    elif kind == "sand":
        notes = {"last_grit": 320.0, "minutes_min": 35.0}
    elif kind == "coat":
        stage = piece.stages.get(kind="coat")
        for ago in plan.coats:
            give_coat(stage, at=now - timedelta(days=ago), now=now, by=None)
    elif kind == "sign":
        notes = {"signed_as": "Canal yard", "price": 95.0, "mass_g": 720.0}
    _finish(piece, kind, at, now, **notes)


def _dry(piece: Piece, plan: DemoPiece, places: list[Place], *, now: datetime, seed: int) -> None:
    """Move and weigh it as planned; the weights come from the engine, a little off, and a scale."""
    run = DryingRun.objects.get(piece=piece)
    for ago, place, wrap, sealed in plan.stays:
        move(
            run,
            place=places[place],
            wrap=wrap,
            ends_sealed=sealed,
            at=now - timedelta(days=ago),
            now=now,
            by=None,
        )
    run = open_runs(piece.workshop).get(pk=run.pk)
    engine = engine_piece(run)
    chance = np.random.default_rng(seed)
    unknowns = Unknowns.from_matrix(0.5 * chance.normal(size=(1, 5)) * np.array([0.4, 0.3, 0.1, 3.0, 0.15]))
    days = [max((plan.roughed or 0.0) - ago, 0.02) for ago in plan.weighed]
    truth = simulate(
        engine,
        lived_of(run, until_days=2000.0).treatments,
        until_days=(plan.roughed or 0.0) + 0.1,
        unknowns=unknowns,
    )
    dry = engine.dry_mass_g * (1 + 0.05 * chance.normal())
    scale = SimulatedScale(seed)
    for day in days:
        moisture = float(truth.mean_at(np.array([day]))[0, 0])
        reading = scale.weigh(dry * (1 + moisture))
        row = weigh(
            piece.workshop, run, key=uuid5(NAMESPACE_URL, f"yard-kiln:{piece.tag}:{day}"),
            mass_g=reading.mass_g, at=run.started_at + timedelta(days=day), now=now,
            typed=f"{reading.mass_g:.0f} g",
        )  # fmt: skip
        accept_weight(row)
