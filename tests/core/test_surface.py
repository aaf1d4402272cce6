"""Grits and coats against what turners state."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kilncore.errors import CoreError, OutOfRange, Unknown
from kilncore.rules.finish import all_finishes, finish_schedule
from kilncore.rules.sanding import ENDS, STARTS, grit_ladder, median_um

ALL = (80, 120, 180, 240, 320, 400, 600)


# Common practice, no published source: ladders in use.
@pytest.mark.parametrize(
    ("surface", "finish", "grits"),
    [
        ("torn", "film", (80, 120, 180, 240, 320, 400)),
        ("scraped", "oil", (120, 180, 240, 320)),
        ("scraped", "utility", (120, 180, 240)),
        ("scraped", "wax", (120, 180, 240, 320, 400, 600)),
    ],
)
def test_ladders_are_the_ones_in_use(surface, finish, grits):
    assert grit_ladder(surface, finish_family=finish, owned=ALL).grits == grits


def test_the_other_school_stops_early_for_paste():
    ladder = grit_ladder("scraped", finish_family="wax", owned=ALL, school="short-paste")
    assert ladder.grits[-1] == 320 and ladder.after.code == "paste"
    assert grit_ladder("scraped", finish_family="oil", owned=ALL, school="short-paste").after is None


owned_sets = st.lists(st.sampled_from(sorted(median_um())), min_size=2, unique=True)


@given(owned_sets, st.sampled_from(sorted(STARTS)), st.sampled_from(sorted(ENDS)))
def test_every_ladder_climbs_on_owned_grits_only_and_flags_long_steps(owned, surface, finish):
    try:
        ladder = grit_ladder(surface, finish_family=finish, owned=tuple(owned))
    except CoreError as error:
        assert error.code == "no-coarse-grit" and min(owned) > STARTS[surface][1]
        return
    assert list(ladder.grits) == sorted(set(ladder.grits)) and set(ladder.grits) <= set(owned)
    long = [r for r in ladder.rungs if r.ratio and r.ratio > 2.0]
    assert len([c for c in ladder.cautions if c.text.code == "skip"]) == len(long)


def test_grain_sizes_fall_and_each_p_number_has_one():
    # FEPA 43 / ISO 6344, from memory: P120 125, P240 58.5, P400 35, P1000 18.3 micrometres.
    sizes = median_um()
    assert (sizes[120], sizes[240], sizes[400], sizes[1000]) == (125.0, 58.5, 35.0, 18.3)
    ordered = [sizes[g] for g in sorted(sizes)]
    assert ordered == sorted(ordered, reverse=True)


def test_a_closed_form_is_never_sanded_with_fingers_inside():
    ladder = grit_ladder("scraped", finish_family="oil", owned=ALL, closed_form=True)
    assert "fingers" in [c.text.code for c in ladder.cautions if c.level == "stop"]
    assert "stick" in str(ladder.zones[1])


def test_more_surface_takes_more_time_and_paper():
    small = grit_ladder("torn", finish_family="film", owned=ALL, area_cm2=500)
    large = grit_ladder("torn", finish_family="film", owned=ALL, area_cm2=2500)
    assert sum(r.minutes for r in large.rungs) > 3 * sum(r.minutes for r in small.rungs)
    assert sum(r.quarter_sheets for r in large.rungs) > sum(r.quarter_sheets for r in small.rungs)


def test_there_are_at_least_six_systems_and_each_schedules():
    assert len(all_finishes()) >= 6
    for key, system in all_finishes().items():
        schedule = finish_schedule(key, room_c=20, rh_pct=50)
        assert len(schedule.coats) == sum(n for _, n in system.coats)
        times = [c.after_hours for c in schedule.coats]
        assert times[0] == 0 and times == sorted(times) and schedule.cured_after_hours > times[-1]


def test_sealer_near_freezing_wants_about_an_hour():
    # Common practice, no published source: an hour between sealer coats at about 4 C.
    assert finish_schedule("shellac", room_c=4, rh_pct=50).interval_hours == pytest.approx(1.0, abs=0.2)


def test_end_grain_and_punky_wood_drink_six_sealer_coats_for_two():
    # Common practice, no published source.
    schedule = finish_schedule("shellac", room_c=20, rh_pct=50, end_grain=True)
    assert sum(c.what == "shellac sealer" for c in schedule.coats) == 6
    assert "drinks" in str(schedule.why)


@given(st.sampled_from(sorted(all_finishes())), st.floats(13, 30), st.floats(1, 9))
def test_colder_and_damper_rooms_never_dry_faster(key, room, colder):
    cold_room = max(room - colder, 12.1)
    warm, cold = (finish_schedule(key, room_c=c, rh_pct=50) for c in (room, cold_room))
    damp = finish_schedule(key, room_c=room, rh_pct=80)
    assert cold.interval_hours >= warm.interval_hours and damp.interval_hours > warm.interval_hours
    assert cold.cured_after_hours >= warm.cured_after_hours


def test_a_room_too_cold_says_how_warm_it_must_be():
    with pytest.raises(CoreError) as caught:
        finish_schedule("hard-wax-oil", room_c=5, rh_pct=50)
    assert caught.value.field == "room_c" and "12 °C" in caught.value.message
    with pytest.raises(OutOfRange):
        finish_schedule("wax", room_c=70, rh_pct=50)
    with pytest.raises(Unknown, match="hard-wax-oil"):
        finish_schedule("unobtainium", room_c=20, rh_pct=50)


def test_food_pieces_are_stopped_from_finishes_not_for_food():
    assert "not-for-food" in [
        c.text.code for c in finish_schedule("shellac", room_c=20, rh_pct=50, for_food=True).cautions
    ]
    safe = finish_schedule("oil-wax", room_c=20, rh_pct=50, for_food=True)
    assert not [c for c in safe.cautions if c.level == "stop"] and safe.food.code == "food-yes"
    assert "rags" in [c.text.code for c in finish_schedule("drying-oil", room_c=20, rh_pct=50).cautions]
