"""How the core speaks and where its numbers come from: sentences, errors, rules, tables."""

import csv
import math
import tomllib
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import kilncore
from kilncore.bench import Bench, Lathe
from kilncore.errors import CoreError, Impossible, OutOfRange, Unknown, fill, require_range
from kilncore.rules.finish import all_finishes
from kilncore.rules.rulebook import Rule
from kilncore.rules.wall import ROUGH_WALL
from kilncore.said import say
from kilncore.sources import all_sources, source
from kilncore.units import SUFFIXES, suffix_of
from kilncore.wood.species import Known, all_species, species

DATA = Path(kilncore.__file__).parent / "data"


def test_a_sentence_without_its_number_fails_where_it_is_written():
    with pytest.raises(KeyError):
        say("x", "A wall of {wall_mm}.")
    assert str(say("x", "A wall of {wall_mm}.", wall_mm=6)) == "A wall of 6 mm."


@pytest.mark.parametrize(
    ("params", "text"),
    [
        ({"a_mm": 28.123}, "28.1 mm"), ({"a_mm": 281.4}, "281 mm"), ({"a_pct": 5.25}, "5.25 %"),
        ({"a_rpm": 520}, "520 rpm"), ({"a": "oak"}, "oak"), ({"a_per_week_pct": 0.3}, "0.3 %/week"),
    ],
)  # fmt: skip
def test_numbers_are_filled_with_the_unit_of_their_name(params, text):
    (name,) = params
    assert fill("{" + name + "}", params) == text


def test_the_longest_suffix_wins_and_a_bare_name_has_none():
    assert suffix_of("loss_per_week_pct") == "_per_week_pct" and suffix_of("density_kg_m3") == "_kg_m3"
    assert suffix_of("rim_m_s") == "_m_s" and suffix_of("swing_mm") == "_mm" and suffix_of("ratio") is None
    assert len(set(SUFFIXES.values())) == len(SUFFIXES)


@given(st.floats(allow_nan=True, allow_infinity=True))
def test_a_range_lets_through_just_what_lies_in_it(value):
    if math.isfinite(value) and 2.0 <= value <= 30.0:
        require_range("a_mm", value, 2.0, 30.0)
        return
    with pytest.raises(OutOfRange) as caught:
        require_range("a_mm", value, 2.0, 30.0, "No wall is like that.")
    assert caught.value.field == "a_mm" and "2 mm and 30 mm" in caught.value.message
    assert caught.value.message.endswith("No wall is like that.")


def test_errors_pass_through_a_context_and_print_their_code():
    error = Impossible("no-way", "wall_mm", "A wall of {wall_mm}.", {"wall_mm": 9.0})
    with pytest.raises(CoreError) as caught:
        raise error from ValueError("inner")
    assert str(caught.value) == "no-way: A wall of 9 mm." and isinstance(caught.value.__cause__, ValueError)
    assert "oak, elm" in Unknown("species", "x", ["oak", "elm"]).message


def test_a_rule_refuses_a_school_without_a_source():
    with pytest.raises(KeyError):
        Rule("x", "How?").school("a", label="A", source_key="hearsay")


def test_every_school_of_every_rule_has_a_source_a_label_and_a_sentence():
    inputs = {
        "finish_mm": 260.0,
        "finish_wall_mm": 6.0,
        "clean_mm": 2.8,
        "across_pct": 5.0,
        "along_pct": 0.1,
        "rough_mm": 280.0,
    }
    verdicts = ROUGH_WALL.ask(**inputs)
    assert {v.school for v in verdicts} == set(ROUGH_WALL.schools) and len(verdicts) >= 2
    for verdict in verdicts:
        assert source(verdict.source).title and verdict.label and str(verdict.why)
    # An outlier among schools would need a written reason; these two lie within a factor of two.
    values = [v.value for v in verdicts]
    assert max(values) / min(values) < 2.0


@pytest.mark.parametrize("table", sorted(p.name for p in DATA.glob("*.csv")))
def test_every_table_says_source_place_and_tolerance_on_top(table):
    text = (DATA / table).read_text()
    for word in ("# source:", "# where:", "# tolerance:"):
        assert word in text
    rows = list(csv.DictReader(line for line in text.splitlines() if line and not line.startswith("#")))
    assert rows and all(None not in row and None not in row.values() for row in rows)


def test_every_source_has_a_kind_and_title_and_none_is_unused():
    kinds = {"handbook", "standard", "book", "common-practice", "assumed"}
    assert all(s.kind in kinds and s.title for s in all_sources().values())
    written = "".join(
        p.read_text()
        for p in DATA.parent.rglob("*")
        if p.suffix in {".py", ".csv", ".toml"} and p.name != "sources.toml"
    )
    assert [key for key in all_sources() if key not in written] == []


def test_finish_data_is_whole():
    rows = tomllib.loads((DATA / "finishes.toml").read_text())
    assert set(rows) == set(all_finishes())
    for finish in all_finishes().values():
        assert finish.food in {"yes", "cured", "no"} and finish.interval_hours > 0 and finish.care
        assert 0 <= finish.min_c <= 15 and all(n >= 1 for _, n in finish.coats)


@pytest.mark.parametrize("key", list(all_species()))
def test_every_species_is_physically_possible(key):
    wood = species(key)
    assert 0.25 < wood.gb.low <= wood.gb.typical <= wood.gb.high < 0.95
    assert 20 < wood.green_mc_pct.low < wood.green_mc_pct.high < 300
    ratio = wood.shrink_tangential_pct.typical / wood.shrink_radial_pct.typical
    # Handbook ch. 4: tangential shrinkage is between a little over one and three times the radial.
    assert 1.1 < ratio < 3.0


def test_known_figures_must_be_in_order():
    with pytest.raises(ValueError, match="low <= typical <= high"):
        Known(2.0, 1.0, 3.0, False, "x")


def test_lathes_round_down_and_refuse_ranges_that_are_none():
    dial = Lathe("dial", 400.0, 100.0, 2000.0)
    assert dial.at_most(567.0) == 560.0 and dial.at_most(9000.0) == 2000.0 and dial.at_most(99.0) is None
    pulleys = Lathe("pulleys", 400.0, 300.0, 1500.0, (300.0, 600.0, 1500.0))
    assert pulleys.at_most(1499.0) == 600.0 and pulleys.at_most(200.0) is None
    with pytest.raises(Impossible) as caught:
        Lathe("broken", 400.0, 900.0, 800.0)
    assert caught.value.field == "min_rpm"
    assert Bench(dial).plates_of("faceplate") == ()
