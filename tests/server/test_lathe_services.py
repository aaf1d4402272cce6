"""Keeping what is drawn and measured at the lathe: designs, cores, callipers, speeds; templates."""

import io
import re
from datetime import UTC, datetime, timedelta

import ezdxf
import pytest
from django.core.exceptions import ValidationError

from kilncore.coring.cut import CoreCut, Knife
from kilncore.coring.nest import NestAsk, best_nest, nest_of
from kilncore.equipment import KINDS
from kilncore.errors import Impossible, OutOfRange
from kilncore.solids.curve import Handle, curve
from kilncore.solids.design import Design, Foot
from kilncore.solids.families import SHAPES, Sizes, family_handles
from kilncore.solids.mesh import mesh_of
from kilncore.solids.walls import WallPlan
from server.apps.drying.models import DryingRun
from server.apps.lathe import prints
from server.apps.lathe.models import CalliperReading, Sketch, SpeedUse
from server.apps.lathe.queries import hole_of, orientation_of, setting_of, stock_of
from server.apps.lathe.services import (
    cores_of,
    drop_calliper,
    keep_design,
    keep_sketch,
    last_speeds,
    note_speed,
    put_back_cores,
    read_calliper,
    take_cores,
)
from server.apps.pieces.designs import design_from, design_kept
from server.apps.pieces.models import Event
from server.apps.pieces.queries import facts_of
from server.apps.pieces.services import begin_piece
from server.apps.shop.models import Tool
from server.apps.shop.queries import bench_of
from server.apps.shop.services import save_tool
from server.apps.yard.services import take_in_log

NOW = datetime(2026, 5, 4, 10, tzinfo=UTC)


def a_piece(workshop, **change):
    values = {
        "species": "ash-european", "form": "side-grain-bowl", "state": "green", "diameter_mm": 380.0,
        "height_mm": 165.0, "finish_diameter_mm": 340.0, "finish_wall_mm": 6.0, "pith_mm": 15.0,
    }  # fmt: skip
    return begin_piece(workshop, now=NOW, by=None, tag=None, **{**values, **change})


def a_design(width=260.0, height=105.0, family="hemisphere", **more):
    sizes = Sizes(width, height, SHAPES[family].foot_share * width)
    return Design(family_handles(family, sizes), **more)


@pytest.mark.parametrize("family", list(SHAPES))
def test_a_form_comes_back_from_its_box_as_it_went_in(family):
    half = 120.0 if SHAPES[family].plan == "square" else None
    height = 200.0 if SHAPES[family].closed else 90.0
    drawn = a_design(
        240.0, height, family, plan=WallPlan("heavy", 5.5, 12.0), half_mm=half, foot=Foot("tenon", 60.0, 7.0)
    )
    again = design_from(design_kept(drawn))
    assert again.plan == drawn.plan and again.foot == drawn.foot and again.half_mm == drawn.half_mm
    for one, two in zip(again.outer, drawn.outer, strict=True):
        assert (one.r_mm, one.z_mm, one.corner) == (
            pytest.approx(two.r_mm, abs=6e-4),
            pytest.approx(two.z_mm, abs=6e-4),
            two.corner,
        )
    assert design_from({}) is None


@pytest.mark.django_db
def test_a_form_kept_changes_the_piece_s_sizes_and_is_written_down(workshop):
    piece = a_piece(workshop)
    keep_design(piece, a_design(), now=NOW, by=None)
    piece.refresh_from_db()
    assert piece.finish_diameter_mm == pytest.approx(260.0, abs=0.2) and facts_of(piece).design is not None
    event = Event.objects.filter(piece=piece).last()
    assert event.verb == "drawn" and event.data["before"] == {}
    keep_design(piece, a_design(220.0), now=NOW, by=None)
    assert Event.objects.filter(piece=piece).last().data["before"]["outer"]
    keep_design(piece, None, now=NOW, by=None)
    piece.refresh_from_db()
    assert piece.design == {} and facts_of(piece).design is None


@pytest.mark.django_db
def test_a_square_is_as_wide_as_its_side_and_a_wide_form_changes_nothing(workshop):
    piece = a_piece(
        workshop, form="winged-bowl", state="dry", diameter_mm=230.0, height_mm=70.0, finish_diameter_mm=220.0
    )
    square = a_design(225.0, 55.0, "square", half_mm=112.5)
    keep_design(piece, square, now=NOW, by=None)
    piece.refresh_from_db()
    assert piece.finish_diameter_mm == pytest.approx(225.0)
    with pytest.raises(Impossible) as caught:
        keep_design(piece, a_design(300.0, 55.0), now=NOW, by=None)
    assert caught.value.code == "wider-than-blank"
    piece.refresh_from_db()
    assert piece.finish_diameter_mm == pytest.approx(225.0) and len(piece.design["outer"]) == len(
        square.outer
    )


@pytest.mark.django_db
def test_the_blank_round_a_form_knows_its_log_and_the_shop_s_thinnest_bar(workshop):
    log = take_in_log(workshop, today=NOW.date(), species="walnut-european", diameter_mm=400.0)
    piece = a_piece(workshop, log=log)
    stock = stock_of(piece)
    assert (stock.log_radius_mm, stock.orientation, stock.pith_mm) == (200.0, "rim-to-pith", 15.0)
    assert setting_of(piece, bench_of(workshop)).tool_mm == 16.0
    usual = {m.name: m.usual for m in KINDS["bar"].measures}
    save_tool(workshop, kind="bar", name="thin", sizes={**usual, "diameter_mm": 8.0})
    assert setting_of(piece, bench_of(workshop)).tool_mm == 8.0
    assert setting_of(piece, bench_of(workshop)).mc_pct > 30.0
    vase = a_piece(
        workshop,
        form="hollow-form",
        diameter_mm=150.0,
        height_mm=240.0,
        finish_diameter_mm=130.0,
        state="dry",
    )
    assert orientation_of(vase) == "end-grain" and stock_of(vase).log_radius_mm is None
    assert setting_of(vase, bench_of(workshop)).mc_pct == 10.0 and hole_of(vase, bench_of(workshop)) is None
    natural = a_piece(workshop, form="natural-edge-bowl", way="once-green")
    assert orientation_of(natural) == "rim-to-bark"
    assert hole_of(piece, bench_of(workshop)) == bench_of(workshop).worm.length_mm


# ---- cores ------------------------------------------------------------------------------------------


def nest_ask():
    knives = tuple(Knife(str(r), str(r), r, 7.0, 1.7 * r, 18.0) for r in (110.0, 150.0))
    return NestAsk(curve(family_handles("hemisphere", Sizes(360.0, 150.0, 120.0))), knives, 24.0, 30.0)


@pytest.mark.django_db
def test_cores_become_kin_with_their_own_routes_and_the_parent_says_so(workshop):
    piece = a_piece(workshop, conditions="barky")
    ask = nest_ask()
    made = take_cores(piece, ask, best_nest(ask).best, now=NOW, by=None)
    assert len(made) == 3 and {p.parent_id for p in made} == {piece.id}
    small, _, large = made
    assert small.diameter_mm < large.diameter_mm < piece.diameter_mm and small.height_mm < large.height_mm
    assert {p.species for p in made} == {"ash-european"} and {p.conditions for p in made} == {"barky"}
    assert [s.kind for s in large.stages.all()][:2] == [
        "rough",
        "dry",
    ] and large.finish_diameter_mm < large.diameter_mm
    event = Event.objects.filter(piece=piece, verb="cored").get()
    assert event.data["tags"] == [p.tag for p in made] and not DryingRun.objects.exists()


@pytest.mark.django_db
def test_cores_are_taken_once_and_may_be_put_back_until_worked_on(workshop):
    piece, ask = a_piece(workshop), nest_ask()
    best = best_nest(ask).best
    made = take_cores(piece, ask, best, now=NOW, by=None)
    with pytest.raises(Impossible) as caught:
        take_cores(piece, ask, best, now=NOW, by=None)
    assert caught.value.code == "already-cored" and made[0].tag in caught.value.message
    assert [p.tag for p in cores_of(piece)] == [p.tag for p in made]
    put_back_cores(piece, now=NOW, by=None)
    assert cores_of(piece) == [] and workshop.pieces.count() == 1
    assert Event.objects.filter(piece=piece).last().verb == "cores-put-back"
    with pytest.raises(Impossible):
        put_back_cores(piece, now=NOW, by=None)
    again = take_cores(piece, ask, best, now=NOW, by=None)
    stage = again[0].stages.first()
    stage.state, stage.done_at = "done", NOW
    stage.save()
    with pytest.raises(Impossible) as caught:
        put_back_cores(piece, now=NOW, by=None)
    assert caught.value.code == "already-begun" and len(cores_of(piece)) == len(again)


@pytest.mark.django_db
def test_cores_of_dry_wood_are_turned_at_once(workshop):
    piece = a_piece(workshop, state="dry")
    made = take_cores(piece, nest_ask(), best_nest(nest_ask()).one, now=NOW, by=None)
    assert next(s.kind for s in made[0].stages.all()) == "turn-dry"


@pytest.mark.django_db
def test_a_nest_that_breaks_makes_no_piece(workshop):
    piece, ask = a_piece(workshop), nest_ask()
    bad = nest_of(ask, (CoreCut(ask.knives[1], 34.0), CoreCut(ask.knives[0], 2.0)))
    for nest, code in ((bad, "core-refused"), (nest_of(ask, ()), "no-cores")):
        with pytest.raises(Impossible) as caught:
            take_cores(piece, ask, nest, now=NOW, by=None)
        assert caught.value.code == code and caught.value.field == "cuts"
    assert workshop.pieces.count() == 1


# ---- callipers, sketches, speeds --------------------------------------------------------------------


@pytest.mark.django_db
def test_a_reading_wants_a_form_and_a_place_with_a_wall(workshop):
    piece = a_piece(workshop)
    with pytest.raises(Impossible):
        read_calliper(piece, z_mm=60.0, wall_mm=6.0, now=NOW, by=None)
    keep_design(piece, a_design(), now=NOW, by=None)
    row = read_calliper(piece, z_mm=60.0, wall_mm=6.4, now=NOW, by=None)
    for z, wall, error in ((1.0, 6.0, Impossible), (60.0, 0.0, OutOfRange), (60.0, 900.0, OutOfRange)):
        with pytest.raises(error):
            read_calliper(piece, z_mm=z, wall_mm=wall, now=NOW, by=None)
    assert CalliperReading.objects.count() == 1
    drop_calliper(row)
    assert CalliperReading.objects.count() == 0


@pytest.mark.django_db
def test_a_sketch_of_the_same_name_is_replaced_and_others_workshops_stay(workshop, other):
    keep_sketch(workshop, name="House", design=a_design(), now=NOW)
    keep_sketch(workshop, name="House", design=a_design(200.0), now=NOW + timedelta(days=1))
    assert Sketch.objects.get().design["outer"][-1]["r_mm"] == 100.0
    assert other.get("/lathe/sketches").json() == []
    with pytest.raises(Impossible):
        keep_sketch(workshop, name="Broken", design=Design((Handle(30.0, 0.0),)), now=NOW)


@pytest.mark.django_db
def test_speeds_come_back_newest_first_within_like_sizes(workshop):
    for day, swing, rpm in ((1, 300.0, 500.0), (3, 310.0, 520.0), (2, 90.0, 1500.0)):
        note_speed(workshop, piece=None, stage="rough", swing_mm=swing, speed_rpm=rpm, felt="calm", words="", now=NOW + timedelta(days=day))  # fmt: skip
    assert [s.speed_rpm for s in last_speeds(workshop, stage="rough", swing_mm=305.0)] == [520.0, 500.0]
    assert len(last_speeds(workshop, stage=None, swing_mm=None, most=2)) == 2
    assert last_speeds(workshop, stage="sand", swing_mm=305.0) == []
    with pytest.raises(ValidationError):
        note_speed(workshop, piece=None, stage="rough", swing_mm=300.0, speed_rpm=500.0, felt="lovely", words="", now=NOW)  # fmt: skip
    assert SpeedUse.objects.count() == 3


@pytest.mark.django_db
def test_tools_reach_the_core_as_knives_and_bars(workshop):
    for kind in ("coring-knife", "bar", "steady", "collet", "screws"):
        save_tool(workshop, kind=kind, name=kind, sizes={m.name: m.usual for m in KINDS[kind].measures})
    bench = bench_of(workshop)
    assert bench.knives[0].radius_mm == 120.0 and bench.bars[0].handle_mm == 600.0 and len(bench.tools) == 5
    with pytest.raises(OutOfRange):
        save_tool(workshop, kind="collet", name="vast", sizes={"bore_mm": 900.0, "depth_mm": 25.0})
    assert Tool.objects.count() == 5


# ---- files ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("paper", "sheets"), [("A4", 1), ("Letter", 1)])
def test_a_small_template_takes_one_sheet_and_a_large_one_is_tiled(paper, sheets):
    outer, inner = a_design(300.0, 120.0).paths()
    small = prints.template_pdf(outer, inner, title="Small", paper=paper)
    assert small.count(b"/Type /Page\n") == sheets
    wide, deep = a_design(760.0, 420.0).paths()
    large = prints.template_pdf(wide, deep, title="Large", paper=paper)
    assert large.count(b"/Type /Page\n") == 3 * 2 if paper == "Letter" else large.count(b"/Type /Page\n") >= 4
    assert (
        prints.template_pdf(outer, inner, title="Small", paper=paper) == small
    )  # the same form, the same file


def test_the_svg_template_is_in_millimetres_and_its_bar_is_a_hundred():
    outer, inner = a_design().paths()
    svg = prints.template_svg(outer, inner, title="x")
    width, height = (float(v) for v in re.search(r'width="([\d.]+)mm" height="([\d.]+)mm"', svg).groups())
    box = [float(v) for v in re.search(r'viewBox="0 0 ([\d.]+) ([\d.]+)"', svg).groups()]
    assert [width, height] == box and width >= 130.0 and 'id="bar"' in svg and "h100" in svg


def test_the_dxf_template_says_its_unit_and_has_a_layer_a_line():
    outer, inner = a_design().paths()
    drawing = ezdxf.read(io.StringIO(prints.template_dxf(outer, inner, title="x")))
    assert drawing.header["$INSUNITS"] == 4
    layers = {e.dxf.layer for e in drawing.modelspace()}
    assert layers == {"OUTSIDE", "INSIDE", "AXIS", "BAR"}
    bar = next(e for e in drawing.modelspace() if e.dxf.layer == "BAR" and e.dxftype() == "LINE")
    assert bar.dxf.end.x - bar.dxf.start.x == 100.0


def test_mesh_files_open_with_their_own_marks():
    outer, inner = a_design().paths()
    mesh = mesh_of(outer, inner, around=24, along=16)
    assert prints.mesh_file(mesh, "glb")[:4] == b"glTF"
    stl = prints.mesh_file(mesh, "stl")
    assert int.from_bytes(stl[80:84], "little") == len(mesh.triangles)
