"""The verbs of the wood side: what they store, what they refuse, and what they leave alone."""

from datetime import UTC, datetime, timedelta

import pytest
from django.core.management import call_command

from kilncore.errors import CoreError
from server.apps.drying.deeds import choose_way, pair, split, step_done, turn_again, ways_of
from server.apps.drying.forecasts import fingerprint, fresh, lived_of, open_runs, refresh
from server.apps.drying.models import DryingRun, PlanStep, StoredForecast
from server.apps.drying.queries import floor
from server.apps.drying.services import bulk_move, mend_sizes
from server.apps.pieces.models import Event, Piece
from server.apps.shop.models import ClimateReading, Place
from server.apps.shop.queries import place_air
from server.apps.shop.services import add_readings, save_place
from server.apps.today.queries import needs


@pytest.fixture
def run(api, workshop):
    tag = api.begin(tag="41")
    api.rough(tag, days_ago=20.0, mass_g=2450)
    return open_runs(workshop).get(piece__tag=tag)


def now():
    return datetime.now(UTC)


def again(workshop, tag="41"):
    return open_runs(workshop).get(piece__tag=tag)


def test_a_forecast_is_computed_once_and_only_for_what_changed(run, workshop, api):
    other = api.begin(tag="42")
    api.rough(other, days_ago=10.0)
    refresh(open_runs(workshop), now=now())
    before = dict(StoredForecast.objects.values_list("run__piece__tag", "computed_at"))
    mend_sizes(again(workshop), changes={"wall_mm": 22.0}, now=now(), by=None)
    refresh(open_runs(workshop), now=now())
    after = dict(StoredForecast.objects.values_list("run__piece__tag", "computed_at"))
    assert after["41"] > before["41"] and after["42"] == before["42"]


def test_every_input_of_a_forecast_is_in_its_fingerprint(run, workshop):
    marks = [fingerprint(again(workshop))]
    place = run.stays.get().place

    def changed():
        marks.append(fingerprint(again(workshop)))
        return marks[-1] not in marks[:-1]

    mend_sizes(again(workshop), changes={"bottom_mm": 30.0}, now=now(), by=None)
    assert changed()
    save_place(workshop, place=place, name=place.name, air_c=17.0, rh_pct=50.0)
    assert changed()
    save_place(
        workshop, place=place, name=place.name, air_c=17.0, rh_pct=50.0, seasons={"winter": (5.0, 80.0)}
    )
    assert changed()
    add_readings(place, [(now() - timedelta(days=30, hours=6 * i), 12.0, 70.0) for i in range(60)])
    assert changed()
    turn_again(
        again(workshop),
        wall_mm=20.0,
        bottom_mm=24.0,
        before_g=2300.0,
        after_g=1700.0,
        at=now(),
        now=now(),
        by=None,
    )
    assert changed()
    DryingRun.objects.update(brings={"ln_k": -0.4})
    assert changed()
    workshop.home_rh_pct = 40.0
    workshop.save()
    assert not changed()  # another home is no input: the table holds every moisture


def test_readings_of_weeks_not_over_wake_nobody(run, workshop):
    place = run.stays.get().place
    refresh(open_runs(workshop), now=now())
    monday = datetime(2026, 11, 19, tzinfo=UTC)  # the third day of a week that began on a Thursday in 1970
    add_readings(place, [(monday + timedelta(hours=h), 18.0, 50.0) for h in range(0, 40, 6)])
    assert ClimateReading.objects.count() == 7
    assert fresh(again(workshop)) is not None


def test_logged_air_goes_before_the_season_and_the_season_before_the_usual(run, workshop):
    place = run.stays.get().place
    every = {key: (10.0, 70.0) for key in ("spring", "summer", "autumn", "winter")}
    save_place(workshop, place=place, name=place.name, air_c=20.0, rh_pct=40.0, seasons=every)
    begun = run.started_at
    add_readings(place, [(begun + timedelta(hours=6 * i), 14.0, 60.0) for i in range(4 * 19)])
    lived = lived_of(again(workshop), until_days=400.0)
    temperatures = {round(t.air_c, 1) for t in lived.treatments}
    assert temperatures == {14.0, 10.0} and place_air(Place.objects.get(pk=place.pk)).usual.air_c == 20.0


def test_a_way_is_followed_step_by_step_and_written_down(run, workshop):
    ways = {w.key: w for w in ways_of(run.piece, run, place=None, now=now())}
    stay = run.stays.last()
    steps = choose_way(run, ways["plastic"], place=stay.place, now=now(), by=None)
    assert [s.done_at is not None for s in steps] == [True, False]
    assert run.stays.last().wrap == "plastic-loose"
    done = step_done(steps[1], skip=True, now=now(), by=None)
    assert done.done_at and run.stays.last().wrap == "plastic-loose"  # left out: nothing moved
    assert Event.objects.filter(verb="way-chosen", data__way="plastic").count() == 1


def test_steps_of_a_way_come_up_in_today_only_once_due(run, workshop):
    PlanStep.objects.create(
        run=run, due_at=now() + timedelta(days=3), kind="move", wrap="open-shelf", way="bag",
        words={"code": "plan-move", "template": "Out of the bag.", "params": {}},
    )  # fmt: skip
    assert "plan-move" not in [n.why.code for n in needs(workshop, now=now()).needs]
    assert "plan-move" in [n.why.code for n in needs(workshop, now=now() + timedelta(days=4)).needs]


def test_all_are_moved_or_none(run, workshop, api):
    late = api.begin(tag="42")
    api.rough(late, days_ago=1.0)
    cellar = save_place(workshop, name="Cellar", air_c=12.0, rh_pct=65.0)
    runs = list(open_runs(workshop))
    with pytest.raises(CoreError) as refused:
        bulk_move(runs, place=cellar, wrap="sock", ends_sealed=None, at=now(), now=now(), by=None)
    assert refused.value.field == "wrap"
    assert {r.place for r in floor(workshop, now=now())} == {"Shelf"}
    assert bulk_move(runs, place=cellar, wrap=None, ends_sealed=True, at=now(), now=now(), by=None) == 2
    assert {(r.place, r.ends_sealed) for r in floor(workshop, now=now())} == {("Cellar", True)}


def test_a_split_leaves_no_open_run_of_the_whole_and_parts_at_drying(run, workshop):
    part = {"diameter_mm": 150.0, "height_mm": 70.0, "wall_mm": 18.0, "bottom_mm": 22.0, "mass_g": None}
    made = split(run, parts=[part, part], at=now(), now=now(), by=None)
    whole = Piece.objects.get(tag="41")
    assert whole.became == "split" and whole.finished_at and not whole.stages.filter(state="active").exists()
    assert {r.piece.tag for r in open_runs(workshop)} == {p.tag for p in made}
    for piece in made:
        assert piece.stages.get(state="active").kind == "dry" and piece.parent == whole
        assert open_runs(workshop).get(piece=piece).stays.get().wrap == run.stays.last().wrap


def test_a_way_without_drying_cannot_be_split_into_it(run, workshop):
    Piece.objects.filter(tag="41").update(way="from-dry")
    part = {"diameter_mm": 150.0, "height_mm": 70.0, "wall_mm": 18.0, "bottom_mm": 22.0}
    with pytest.raises(CoreError):
        split(again(workshop), parts=[part, part], at=now(), now=now(), by=None)
    assert Piece.objects.count() == 1  # nothing half done


def test_a_pair_is_let_go_when_its_control_goes(run, workshop, api):
    control = api.begin(tag="42")
    api.rough(control, days_ago=20.0)
    other = open_runs(workshop).get(piece__tag="42")
    pair(run, other)
    other.delete()
    assert DryingRun.objects.get(piece__tag="41").control_of is None


def test_the_demo_shows_the_wood_side(db, settings):
    settings.DEMO = True
    call_command("load_demo", "--fresh", verbosity=0)
    runs = DryingRun.objects.filter(ended_at__isnull=True)
    assert (
        runs.filter(control_of__isnull=False).exists()
        and PlanStep.objects.filter(done_at__isnull=True).exists()
    )
    assert Place.objects.exclude(spells=[]).exists() and Place.objects.exclude(seasons={}).exists()
    assert StoredForecast.objects.count() == runs.count()
