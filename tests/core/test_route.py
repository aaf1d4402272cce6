"""Routes and work cards: every way, every stage, what follows from what was noted."""

import dataclasses
import re

import pytest

from kilncore.errors import CoreError, Impossible, OutOfRange, Unknown
from kilncore.route.card import Card, CardAsk
from kilncore.route.facts import default_finish_mm
from kilncore.route.planner import STAGES, WAYS, card_for, default_way, plan_route, record_stage
from kilncore.said import Figure, Sentence
from kilncore.sources import all_sources
from kilncore.units import suffix_of
from tests.support import a_bench, a_lathe, facts

ALL_WAYS = [(way.key, state) for way in WAYS.values() for state in way.states]


def card(kind="rough", notes=None, **change):
    return card_for(kind, CardAsk(facts(**change), a_bench(), notes or {}))


def figure(made, name, label=""):
    return next(f for f in made.figures if f.name == name and label in f.label)


@pytest.mark.parametrize(("way", "state"), ALL_WAYS)
def test_every_way_plans_stages_that_all_have_cards(way, state):
    planned = plan_route(facts(way=way, state=state), bench=a_bench())
    assert [s.kind for s in planned] == list(WAYS[way].stages)
    for stage in planned:
        made = card(stage.kind, way=way, state=state)
        assert made.title and str(made.aim) and str(stage.why)


def test_the_four_ways_follow_the_order_of_the_trade():
    # Common practice, no published source.
    assert WAYS["twice-turned"].stages == ("rough", "dry", "turn", "sand", "coat", "foot", "sign")
    assert WAYS["once-green"].stages.index("turn-green") < WAYS["once-green"].stages.index("dry")
    assert "dry" not in WAYS["from-dry"].stages and WAYS["bored-branch"].stages[0] == "bore"
    assert default_way("dry", form_key="side-grain-bowl") == "from-dry"
    assert default_way("green", form_key="natural-edge-bowl") == "once-green"


def test_a_way_for_other_wood_says_which_wood_it_wants():
    with pytest.raises(Impossible) as caught:
        plan_route(facts(way="twice-turned", state="dry"), bench=a_bench())
    assert caught.value.field == "way" and "green or part-dry" in caught.value.message


def test_a_blank_wider_than_the_swing_is_refused_at_once():
    with pytest.raises(Impossible) as caught:
        plan_route(facts(diameter_mm=450.0), bench=a_bench())
    assert caught.value.field == "diameter_mm" and "400 mm" in caught.value.message


def test_the_rough_card_has_all_a_turner_sets():
    made = card()
    assert {h.moment for h in made.holds} == {"first", "hollow"} and made.chain[0].hold.key == "worm-screw"
    assert figure(made, "speed_rpm", "out of round").high < figure(made, "speed_rpm", "running true").high
    wall, rough = figure(made, "wall_mm"), figure(made, "rough_diameter_mm")
    assert wall.value == pytest.approx(rough.value / 10, abs=0.1) and 260 < rough.value < 290
    assert [v.school for v in made.schools[0].verdicts] == ["tenth", "computed"]
    assert "oval" in str(figure(made, "oval_mm").why) and "ends of the grain stay higher" in str(
        figure(made, "oval_mm").why
    )
    assert made.drawing.tenon_radius_mm and made.cautions


def test_a_natural_edge_has_its_sides_rise():
    made = card("turn-green", form_key="natural-edge-bowl", way="once-green")
    assert "sides rise" in str(figure(made, "oval_mm").why)


def test_everything_follows_when_the_blank_changes():
    one, other = card(), card(diameter_mm=285.75)
    assert figure(one, "speed_rpm").high <= figure(other, "speed_rpm").high
    assert one.drawing.blank_radius_mm != other.drawing.blank_radius_mm
    tight = card(diameter_mm=262.0)
    assert "blank-too-small" in [c.text.code for c in tight.cautions]


def test_unknown_pith_is_said_and_a_known_one_moves_the_figure():
    assert "unknown" in str(figure(card(), "oval_mm").why)
    assert figure(card(pith_mm=20.0), "oval_mm").value < figure(card(), "oval_mm").value


OVAL = {"long_mm": 279.0, "short_mm": 264.0, "wall_long_mm": 27.0, "wall_short_mm": 26.0}


def test_the_finish_card_tells_what_is_still_in_the_oval():
    predicted = card("turn")
    assert "Predicted" in str(figure(predicted, "inside_diameter_mm").why)
    made = card("turn", OVAL)
    assert figure(made, "inside_diameter_mm").value < 264 and figure(made, "wall_mm").value == 6.0
    depth = figure(made, "depth_hole_mm").value
    height, bottom = made.drawing.outer[-1][1], made.drawing.inner[0][1]
    assert depth == pytest.approx(height - bottom - 1.0, abs=0.1)
    thin = card("turn", {**OVAL, "wall_long_mm": 16.0, "wall_short_mm": 16.0}, finish_wall_mm=12.0)
    assert figure(thin, "wall_mm").value < 12 and "only" in str(figure(thin, "wall_mm").why)


def test_noted_rough_figures_reach_the_finish_card():
    noted = {"rough": {"outside_diameter_mm": 250.0, "wall_mm": 25.0, "height_mm": 90.0}}
    assert figure(card("turn", recorded=noted), "inside_diameter_mm").value < 250


def test_foot_speed_obeys_the_plate_that_holds_it():
    made = card(
        "foot", recorded={"turn": {"final_diameter_mm": 250.0, "final_height_mm": 85.0, "final_wall_mm": 6.0}}
    )
    assert made.holds[0].holds[0].key == "expanding-jaws" and made.figures[0].high <= 600


def test_care_note_speaks_of_wood_size_and_food():
    recorded = {"turn": {"final_diameter_mm": 256.0, "final_height_mm": 84.0}, "sand": {"finish": "shellac"}}
    note = str(card("sign", recorded=recorded).steps[-1])
    assert "European ash" in note and "256 mm" in note and "not for food" in note


def test_slow_lathes_still_get_a_boring_card():
    slow = a_bench(lathe=a_lathe(min_rpm=600.0))
    made = card_for(
        "bore", CardAsk(facts(way="bored-branch", diameter_mm=150.0, finish_diameter_mm=120.0), slow)
    )
    assert "steps" in str(next(f for f in made.figures if f.name == "bore_rpm").why)


@pytest.mark.parametrize(
    ("change", "field", "error"),
    [
        ({"finish_diameter_mm": 300.0}, "finish_diameter_mm", Impossible),
        ({"finish_wall_mm": 140.0, "finish_diameter_mm": 100.0}, "finish_wall_mm", OutOfRange),
        ({"finish_wall_mm": 55.0, "finish_diameter_mm": 100.0}, "finish_wall_mm", Impossible),
        ({"diameter_mm": 2900.0}, "diameter_mm", OutOfRange),
        ({"form_key": "teapot"}, "form", Unknown),
        ({"state": "soggy"}, "state", Unknown),
        ({"purpose": "war"}, "purpose", Unknown),
        ({"species_key": "mithril"}, "species", Unknown),
    ],
)
def test_impossible_pieces_name_the_field(change, field, error):
    with pytest.raises(error) as caught:
        facts(**change).wood.key  # noqa: B018
    assert caught.value.field == field


@pytest.mark.parametrize(
    ("kind", "notes", "field"),
    [
        ("rough", {"outside_diameter_mm": 280.0, "wall_mm": 119.0, "mass_g": -4.0}, "mass_g"),
        ("rough", {"outside_diameter_mm": 200.0, "wall_mm": 110.0}, "wall_mm"),
        ("rough", {"outside_diameter_mm": 280.0}, "wall_mm"),
        (
            "rough",
            {"outside_diameter_mm": 280.0, "wall_mm": 28.0, "height_mm": 60.0, "bottom_mm": 90.0},
            "bottom_mm",
        ),
        ("rough", {"outside_diameter_mm": "big", "wall_mm": 28.0}, "outside_diameter_mm"),
        ("rough", {"outside_diameter_mm": 280.0, "wall_mm": 28.0, "shoe_size": 44.0}, "shoe_size"),
        ("turn", {**OVAL, "short_mm": 290.0, "final_diameter_mm": 250.0, "final_wall_mm": 6.0}, "short_mm"),
        ("sand", {"surface": "velvet"}, "surface"),
        ("sand", {"surface": 7.0}, "surface"),
    ],
)
def test_notes_that_cannot_be_name_the_field(kind, notes, field):
    with pytest.raises(CoreError) as caught:
        record_stage(kind, CardAsk(facts(), a_bench()), notes, complete=True)
    assert caught.value.field == field


def test_good_notes_are_kept_and_empty_ones_dropped():
    kept = record_stage("rough", CardAsk(facts(), a_bench()),
                        {"outside_diameter_mm": 281.0, "wall_mm": 28.0, "words": ""}, complete=True)  # fmt: skip
    assert kept == {"outside_diameter_mm": 281.0, "wall_mm": 28.0}


def test_defaults_round_down_to_a_size_one_would_say():
    assert default_finish_mm(290.0, state="green") == 260.0 and default_finish_mm(290.0, state="dry") == 280.0


def walk(value):
    """Every dataclass inside a card."""
    if dataclasses.is_dataclass(value):
        yield value
        for f in dataclasses.fields(value):
            yield from walk(getattr(value, f.name))
    elif isinstance(value, tuple | list):
        for item in value:
            yield from walk(item)


@pytest.mark.parametrize(("way", "state"), ALL_WAYS)
def test_every_figure_has_a_unit_and_a_known_source_and_every_sentence_its_numbers(way, state):
    for kind in WAYS[way].stages:
        made = card(kind, way=way, state=state)
        assert isinstance(made, Card)
        for part in walk(made):
            if isinstance(part, Figure):
                assert suffix_of(part.name), part.name
                assert part.source == "" or part.source in all_sources()
            if isinstance(part, Sentence):
                assert "{" not in str(part)
        assert all(f.why or f.limits or f.inputs or f.source for f in made.figures)


def test_every_stage_stands_in_some_way():
    assert set(STAGES) == {kind for way in WAYS.values() for kind in way.stages}


def test_an_unknown_stage_or_way_lists_the_known():
    with pytest.raises(Unknown, match="rough"):
        card("polka")
    with pytest.raises(Unknown, match="twice-turned"):
        plan_route(facts(way="backwards"), bench=a_bench())


def test_public_docstrings_give_the_unit_of_every_suffixed_parameter():
    """Each documented name with a unit suffix has that unit in brackets in its own paragraph."""
    import importlib
    import inspect
    import pkgutil

    import kilncore

    missing = []
    for module in pkgutil.walk_packages(kilncore.__path__, "kilncore."):
        loaded = importlib.import_module(module.name)
        for name in getattr(loaded, "__all__", []):
            thing = getattr(loaded, name)
            if not inspect.isfunction(thing) or thing.__module__ != module.name:
                continue
            doc = inspect.getdoc(thing) or ""
            for parameter in inspect.signature(thing).parameters.values():
                documented = re.search(rf"^.*\b{parameter.name}\b.* : float", doc, re.M)
                if (
                    suffix_of(parameter.name)
                    and documented
                    and "[" not in doc[documented.end() : documented.end() + 400]
                ):
                    missing.append(f"{module.name}.{name}: {parameter.name}")
    assert not missing
