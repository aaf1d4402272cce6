"""Logs: shapes, what goes off first, which wood, blanks, layouts, outlines, resin."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.affinity import rotate, scale, translate
from shapely.geometry import LineString, Point, Polygon

from kilncore.errors import CoreError, Impossible, OutOfRange, Unknown
from kilncore.logs.blanks import CUTS, Saw, Spot, blank_at, largest_face_mm, pith_margin_mm
from kilncore.logs.cutting import Want, cutting_layouts, marks_for, trial_layout
from kilncore.logs.identify import SIGNS, keeps, which_wood
from kilncore.logs.keeping import keeping, season_c
from kilncore.logs.outline import TEMPLATES, balance_of, template
from kilncore.logs.resin import resin_plan, void_ml
from kilncore.logs.shape import LogShape, Section
from kilncore.wood.species import all_species

ROUND = Section(150.0, 150.0)
SAW = Saw()


def a_log(**change):
    values = {
        "length_mm": 1200.0, "large_mm": (380.0, 360.0), "small_mm": (340.0, 330.0), "bark_mm": 12.0,
        "pith_large": (15.0, 10.0), "pith_small": (20.0, 5.0),
    }  # fmt: skip
    return LogShape(**{**values, **change})


def ellipse(section):
    return scale(Point(0, 0).buffer(1.0, quad_segs=256), section.a_mm, section.b_mm)


# -- shape ---------------------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(a=st.floats(40, 400), b=st.floats(40, 400), angle=st.floats(0, 360), share=st.floats(-0.95, 0.95))
def test_a_chord_is_where_shapely_cuts_the_ellipse(a, b, angle, share):
    section = Section(a, b)
    t = share * section.reach(angle)
    left, right = section.chord(angle, t)
    line = rotate(translate(LineString([(0, -2000), (0, 2000)]), t, 0), angle, origin=(0, 0))
    cut = ellipse(section).intersection(line)
    assert right - left == pytest.approx(cut.length, rel=2e-3, abs=0.2)
    assert section.chord(angle, 1.001 * section.reach(angle)) is None


def test_the_support_is_the_farthest_point():
    section = Section(200.0, 120.0)
    edge = np.array(section.points(3600))
    for angle in (0.0, 33.0, 90.0, 200.0):
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        assert section.reach(angle) == pytest.approx(float((edge @ [c, s]).max()), rel=1e-4)


def test_wood_of_a_cone_is_the_frustum_formula():
    log = a_log(large_mm=(400.0, 400.0), small_mm=(300.0, 300.0), bark_mm=0.0)
    r1, r2 = 200.0, 150.0
    assert log.wood_cm3 == pytest.approx(math.pi * 1200 / 3 * (r1 * r1 + r1 * r2 + r2 * r2) / 1000, rel=1e-9)


def test_impossible_logs_name_their_field():
    for change, field in (
        ({"pith_large": (250.0, 0.0)}, "pith_offset_mm"),
        ({"trim_start_mm": 700.0, "trim_end_mm": 600.0}, "length_mm"),
        ({"bark_mm": 200.0}, "bark_mm"),
        ({"length_mm": float("nan")}, "length_mm"),
    ):
        with pytest.raises(CoreError) as refused:
            a_log(**change)
        assert refused.value.field == field


# -- blanks --------------------------------------------------------------------------------


def test_a_bowls_profile_takes_far_more_than_its_cylinder():
    """Plane geometry worked by hand: a 300 mm log, 80 mm deep: a cylinder of 227 mm, a bowl of 297."""
    cylinder, _ = largest_face_mm(ROUND, angle_deg=90, face_mm=18.0, height_mm=80.0, family="cylinder")
    bowl, _ = largest_face_mm(ROUND, angle_deg=90, face_mm=18.0, height_mm=80.0)
    assert cylinder == pytest.approx(2 * math.sqrt(150**2 - 98**2), rel=1e-9)
    assert round(cylinder) == 227 and round(bowl) == 297


@pytest.mark.parametrize("cut", list(CUTS))
@pytest.mark.parametrize("angle", [0.0, 40.0, 130.0])
def test_every_blank_lies_in_the_wood(cut, angle):
    log = a_log()
    section = log.smaller_of(100.0, 400.0)
    face = section.pith_t(angle) + pith_margin_mm(section)
    blank = blank_at(log, Spot(cut, 100.0, 300.0, angle, face_mm=face), SAW)
    assert Polygon(blank.end).buffer(0).difference(ellipse(section).buffer(0.6)).area < 2.0
    assert blank.diameter_mm >= 40 and blank.volume_cm3 > 0
    assert blank.holds_pith == (cut == "end-grain")


def test_a_shift_off_the_best_place_never_gains():
    log = a_log()
    free = blank_at(log, Spot("half", 100.0, 600.0, 90.0, face_mm=40.0), SAW)
    for shift in (-60.0, -20.0, 20.0, 60.0):
        off = blank_at(log, Spot("half", 100.0, 600.0, 90.0, face_mm=40.0, shift_mm=shift), SAW)
        assert off.diameter_mm <= free.diameter_mm + 0.2


@settings(max_examples=30, deadline=None)
@given(factor=st.floats(0.5, 2.5), angle=st.floats(0, 180))
def test_scaling_the_log_scales_the_blank(factor, angle):
    section, larger = Section(150, 130), Section(150 * factor, 130 * factor)
    one, _ = largest_face_mm(section, angle_deg=angle, face_mm=20, height_mm=60)
    two, _ = largest_face_mm(larger, angle_deg=angle, face_mm=20 * factor, height_mm=60 * factor)
    assert two == pytest.approx(factor * one, rel=1e-6)


def test_the_natural_rim_keeps_its_low_sides_up():
    log = a_log()
    blank = blank_at(log, Spot("natural-edge", 100.0, 400.0, 90.0, face_mm=30.0), SAW)
    assert blank.rim_low_mm >= 0.549 * blank.height_mm
    assert "rim-dips" in [r.code for r in blank.risks]


def test_a_bored_branch_says_what_wall_the_bit_leaves():
    branch = a_log(
        large_mm=(110.0, 110.0),
        small_mm=(100.0, 100.0),
        bark_mm=4.0,
        pith_large=(3.0, 0.0),
        pith_small=(3.0, 0.0),
    )
    blank = blank_at(branch, Spot("bored-branch", 50.0, 200.0), Saw(bit_mm=32.0))
    said = next(r for r in blank.risks if r.code == "bored-wall")
    assert said.params["wall_mm"] == pytest.approx(blank.diameter_mm / 2 - 16.0, abs=0.2)
    assert not blank.holds_pith
    with pytest.raises(Impossible):
        blank_at(branch, Spot("bored-branch", 50.0, 200.0), Saw(bit_mm=118.0))


def test_wanted_sizes_and_ends_are_kept():
    log = a_log()
    assert blank_at(log, Spot("half", 100.0, 400.0, wanted_mm=180.0, face_mm=30.0), SAW).diameter_mm == 180.0
    assert blank_at(log, Spot("half", 100.0, 160.0, face_mm=30.0), SAW).diameter_mm <= 150.0
    with pytest.raises(Impossible):
        blank_at(log, Spot("half", 1000.0, 400.0), SAW)
    with pytest.raises(Unknown):
        Spot("lengthwise", 0.0, 100.0)
    with pytest.raises(OutOfRange):
        Saw(kerf_mm=80.0)


def test_faults_of_the_log_are_told_at_the_blank():
    cracked = a_log(faults=("cracked", "insects"))
    codes = [r.code for r in blank_at(cracked, Spot("half", 100.0, 300.0, face_mm=30.0), SAW).risks]
    assert {"cracked", "insects"} <= set(codes)


# -- layouts -------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def layouts():
    return cutting_layouts(a_log(), saw=SAW)


def test_layouts_never_overlap_nor_leave_the_log(layouts):
    for layout in layouts:
        again = trial_layout(a_log(), tuple(b.spot for b in layout.blanks), saw=SAW)
        assert again.clashes == () and again.refused == ()
        for blank in layout.blanks:
            assert blank.spot.start_mm >= 30.0 - 1e-6
            assert blank.spot.start_mm + blank.spot.length_mm <= 1170.5
    assert len({lay.key for lay in layouts}) >= 5


def test_most_wood_is_not_called_best(layouts):
    """End grain round the pith uses most wood and will split: it must not come first."""
    most = max(layouts, key=lambda lay: lay.yield_pct)
    assert most.key == "end-grain" and layouts[0].key != "end-grain"
    assert all(b.holds_pith for b in most.blanks)


def test_yield_is_the_blanks_share_of_the_wood(layouts):
    for layout in layouts:
        used = sum(b.volume_cm3 for b in layout.blanks)
        assert layout.yield_pct == pytest.approx(100 * used / a_log().wood_cm3, abs=0.06)


def test_what_is_wanted_comes_first_and_what_has_no_room_is_said():
    wants = (
        Want("side-grain-bowl", 250.0, 2),
        Want("end-grain-vase", 120.0, 1, 200.0),
        Want("side-grain-bowl", 900.0),
    )
    best = cutting_layouts(a_log(), saw=SAW, wants=wants)[0]
    assert best.key == "wanted"
    assert sum(b.diameter_mm >= 249.5 and b.form == "side-grain-bowl" for b in best.blanks) >= 2
    assert any(b.form == "end-grain-vase" and b.diameter_mm >= 119 for b in best.blanks)
    assert [u.params["wanted_mm"] for u in best.unmet] == [900.0]


def test_the_best_rip_beats_a_rip_across_the_long_way():
    """An oval log: halves ripped along its long axis are wider than across it."""
    oval = a_log(
        length_mm=480.0,
        large_mm=(420.0, 260.0),
        small_mm=(420.0, 260.0),
        bark_mm=0.0,
        pith_large=(0, 0),
        pith_small=(0, 0),
    )
    halves = next(lay for lay in cutting_layouts(oval, saw=SAW) if lay.key == "half")
    fixed = trial_layout(
        oval,
        tuple(Spot("half", b.spot.start_mm, b.spot.length_mm, (b.spot.angle_deg + 90) % 360, face_mm=13.0) for b in halves.blanks),
        saw=SAW,
    )  # fmt: skip
    assert halves.worth > fixed.worth


def test_clashes_and_misses_of_an_own_layout_are_named():
    spots = (
        Spot("half", 50.0, 250.0, 90.0, face_mm=20.0, id="a"),
        Spot("half", 100.0, 250.0, 90.0, face_mm=20.0, id="b"),
        Spot("half", 600.0, 250.0, 90.0, face_mm=170.0, id="c"),
    )
    own = trial_layout(a_log(), spots, saw=SAW)
    assert own.clashes == (("a", "b"),)
    assert [key for key, _ in own.refused] == ["c"]


def test_marks_lead_from_the_log_to_the_round(layouts):
    halves = next(lay for lay in layouts if lay.key == "half")
    marks = marks_for(a_log(), halves, saw=SAW)
    tools = [m.tool for m in marks]
    assert tools[0] == "chainsaw" and tools.count("bandsaw") == len(halves.blanks)
    circles = [m.text.params["diameter_mm"] for m in marks if m.text.code == "circle"]
    assert circles == [b.diameter_mm for b in halves.blanks]


def test_a_log_too_small_for_anything():
    with pytest.raises(CoreError):
        cutting_layouts(a_log(length_mm=100.0, large_mm=(45.0, 45.0), small_mm=(40.0, 40.0), bark_mm=4.0,
                              pith_large=(0, 0), pith_small=(0, 0)), saw=SAW)  # fmt: skip


# -- which wood, what goes off first -----------------------------------------------------------


def test_signs_narrow_and_never_prove():
    locust = which_wood(
        {"pores": "ring", "hardness": "hard", "glow": "yellow-green", "heart": "yellow-green"}
    )
    assert locust.likely[0].key == "locust-black" and 60 < locust.likely[0].share_pct <= 90
    walnut = which_wood({"heart": "dark", "smell": "sharp"})
    assert {w.key for w in walnut.likely[:2]} == {"walnut-black", "walnut-european"}
    assert which_wood({}).words.code == "nothing-seen"
    assert (
        which_wood({"pores": "conifer", "glow": "yellow-green", "iron": "yes"}).words.code == "nothing-fits"
    )


def test_the_next_sign_is_one_not_tried_and_the_lamp_is_warned_of():
    guess = which_wood({"pores": "ring", "hardness": "hard"})
    assert guess.next_sign in SIGNS and guess.next_sign not in ("pores", "hardness")
    assert "lamp" in [c.text.code for c in guess.cautions]
    with pytest.raises(Unknown):
        which_wood({"taste": "sweet"})
    with pytest.raises(Unknown):
        which_wood({"pores": "purple"})


def test_every_listed_wood_is_found_by_its_own_signs():
    from kilncore.logs.identify import _sign_of

    for wood in all_species().values():
        if wood.kind == "class":
            continue
        own = {s: v for s in SIGNS if (v := _sign_of(wood, s))}
        assert wood.key in [w.key for w in which_wood(own).likely], wood.key


def test_pale_wood_in_summer_goes_off_before_walnut_in_winter():
    """Common practice, no published source: pale woods within a warm summer, durable hearts keep a year."""
    beech = keeping("beech-european", since_days=75, day_of_year=220, sealed=False)
    walnut = keeping("walnut-european", since_days=75, day_of_year=20, sealed=True)
    assert beech.level == "over" and walnut.level == "sound" and beech.used_pct > 5 * walnut.used_pct
    assert keeps("unknown-hardwood") == "middling"


@given(days=st.floats(1, 300), day=st.floats(1, 365))
@settings(max_examples=25, deadline=None)
def test_time_and_bare_ends_only_make_it_worse(days, day):
    sealed = keeping("plane-london", since_days=days, day_of_year=day, sealed=True)
    bare = keeping("plane-london", since_days=days, day_of_year=day, sealed=False)
    later = keeping("plane-london", since_days=days + 30, day_of_year=day, sealed=False)
    assert sealed.used_pct <= bare.used_pct <= later.used_pct


def test_the_season_is_coldest_in_january():
    assert season_c(15) == pytest.approx(2.0) and season_c(15 + 182.6) == pytest.approx(18.0, abs=0.01)


# -- outlines ------------------------------------------------------------------------------


def flat(points, **change):
    return balance_of(points, **{"thickness_mm": 50.0, "gb": 0.5, "mc_pct": 60.0, **change})


@pytest.mark.parametrize("key", list(TEMPLATES))
def test_balance_and_least_swing_against_shapely(key):
    points = template(key, width_mm=220, length_mm=180)
    found = flat(points)
    centroid = Polygon(points).centroid
    assert (found.mounts[0].x_mm, found.mounts[0].y_mm) == pytest.approx((centroid.x, centroid.y), abs=0.01)
    hull = max(
        (math.dist(p, q) for p in points for q in points), default=0.0
    )  # no circle over it can be smaller than its longest diagonal
    assert hull - 0.2 <= found.mounts[1].swing_mm <= found.mounts[0].swing_mm + 0.2


def test_a_square_balances_and_sweeps_its_diagonal():
    found = flat(template("square", width_mm=156, length_mm=156))
    assert found.mounts[0].swing_mm == pytest.approx(156 * math.sqrt(2), abs=0.1)
    assert found.mounts[0].imbalance_g_mm == 0
    assert found.words[0].code == "one-centre"


def test_a_wedges_centres_differ_and_an_ls_balance_may_lie_in_air():
    wedge = flat(template("wedge", width_mm=200, length_mm=300))
    assert wedge.mounts[1].offset_mm > 5 and wedge.mounts[1].imbalance_g_mm == pytest.approx(
        wedge.mass_g * wedge.mounts[1].offset_mm, rel=0.01
    )
    ell = ((0, 0), (300, 0), (300, 40), (40, 40), (40, 300), (0, 300))
    found = flat(ell)
    assert not found.mounts[0].on_wood
    assert "balance-in-air" in [w.code for w in found.words]


def test_mass_is_area_times_thickness_times_density():
    found = flat(((0, 0), (100, 0), (100, 100), (0, 100)), mc_pct=0.0)
    assert found.mass_g == pytest.approx(100 * 100 * 50 / 1000 * 0.5 / (1 - 0.265 * 0.5), rel=1e-3)


def test_outlines_that_are_none():
    for points, code in (
        (((0, 0), (100, 0)), "few-corners"),
        (((0, 0), (100, 100), (100, 0), (0, 100)), "crosses-itself"),
        (((0, 0), (5, 0), (5, 5)), "too-small"),
        (((0, 0), (9e9, 0), (5, 5)), "far-corner"),
    ):
        with pytest.raises(CoreError) as refused:
            flat(points)
        assert refused.value.code == code and refused.value.field == "points"
    with pytest.raises(Unknown):
        template("star", width_mm=100, length_mm=100)


# -- resin ---------------------------------------------------------------------------------


def test_voids_by_closed_forms():
    assert void_ml("box", length_mm=100, width_mm=50, depth_mm=20) == pytest.approx(100.0)
    assert void_ml("wedge", length_mm=100, width_mm=50, depth_mm=20) == pytest.approx(50.0)
    assert void_ml("cylinder", diameter_mm=40, depth_mm=50) == pytest.approx(math.pi * 4 * 5, rel=1e-9)
    assert void_ml("measured", filled_ml=73.0) == 73.0
    for kind, sizes in (("cone", {}), ("box", {"length_mm": 10.0}), ("measured", {"filled_ml": 0.0})):
        with pytest.raises(CoreError):
            void_ml(kind, **sizes)


@given(volume=st.floats(1, 5000), a=st.floats(0.5, 100), b=st.floats(0.5, 100), depth=st.floats(2, 200))
@settings(max_examples=40, deadline=None)
def test_parts_add_up_to_the_mix_whichever_way_they_are_counted(volume, a, b, depth):
    for by in ("weight", "volume"):
        plan = resin_plan(volume, depth_mm=depth, ratio_a=a, ratio_b=b, by=by, loss_pct=0.0)
        filled = plan.part_a_g / 1.14 + plan.part_b_g / 1.0
        assert filled == pytest.approx(volume, rel=0.01, abs=0.2)
        assert all(p.layer_mm <= 20.05 for p in plan.pours)
        assert sum(p.volume_ml for p in plan.pours) == pytest.approx(
            volume, rel=0.02, abs=0.5 * len(plan.pours)
        )
    ratio = resin_plan(volume, depth_mm=depth, ratio_a=a, ratio_b=b).part_a_g
    assert ratio >= 0


def test_a_deep_void_is_poured_in_layers_with_cautions():
    plan = resin_plan(200.0, depth_mm=45.0, layer_mm=15.0, ratio_a=2, ratio_b=1)
    assert len(plan.pours) == 3 and plan.part_a_g == pytest.approx(2 * plan.part_b_g, abs=0.2)
    assert plan.mix_ml == pytest.approx(220.0)
    assert {"resin-skin", "resin-heat"} <= {c.text.code for c in plan.cautions}
    with pytest.raises(Unknown):
        resin_plan(10, depth_mm=5, by="eye")
