"""Tables that come in as text: separators, decimals, dates, guesses at columns, and what is wrong where."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kilncore.errors import Impossible
from server.api.tables import Column, number, read_rows, read_table, unmatched, when

COLUMNS = (
    Column("tag", "Tag", ("tag", "piece"), str.upper),
    Column("at", "When", ("at", "when", "date"), when),
    Column("mass", "Weight", ("massg", "weight"), number),
    Column("note", "Note", ("note",), str, required=False),
)


@pytest.mark.parametrize("between", [",", ";", "\t"])
def test_the_separator_is_found_by_itself(between):
    text = between.join(["tag", "when", "weight"]) + "\n" + between.join(["14", "2026-03-01 10:00", "2390"])
    table = read_table(text)
    assert table.header == ["tag", "when", "weight"] and table.rows == [["14", "2026-03-01 10:00", "2390"]]


def test_notes_blank_lines_marks_and_quotes_are_understood():
    table = read_table('\ufeff# made by hand\n\ntag,when,weight\n"B,7", 2026-03-01 ,"2 390"\n\n')
    assert table.header[0] == "tag" and table.rows == [["B,7", "2026-03-01", "2 390"]]


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("", "empty-file"),
        ("tag,when\n", "empty-file"),
        ("a,a\n1,2", "twin-columns"),
        ("x" * 6_000_001, "file-too-large"),
    ],
)
def test_what_is_no_table_is_refused_by_its_own_name(text, code):
    with pytest.raises(Impossible) as refused:
        read_table(text)
    assert refused.value.code == code and refused.value.field == "text"


def test_too_many_rows_are_sent_in_parts():
    with pytest.raises(Impossible) as refused:
        read_table("a,b\n" + "1,2\n" * 60_001)
    assert refused.value.code == "too-many-rows"


def test_columns_are_guessed_by_name_exactly_first_and_never_twice():
    table = read_table("Weight (g),Piece,Date and time,weight\n1,2,3,4")
    assert table.guess(COLUMNS) == {"tag": "Piece", "at": "Date and time", "mass": "weight"}
    assert unmatched(COLUMNS, {"tag": "Piece"}) == ["at", "mass"]


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("2390", 2390.0), ("2,39", 2.39), ("2.39", 2.39), ("2 390,5", 2390.5), ("2,390.5", 2390.5), ("2.390,5", 2390.5),
        ("2\u00a0390", 2390.0), ("1'234.5", 1234.5), ("-3", -3.0), ("1e3", 1000.0),
    ],
)  # fmt: skip
def test_numbers_as_people_and_programs_write_them(text, value):
    assert number(text) == value


@pytest.mark.parametrize("text", ["heavy", "", "1.2.3", "nan", "inf", "1e99", "12 kg"])
def test_what_is_no_number_says_so(text):
    with pytest.raises(ValueError, match="is not a"):
        number(text)


@settings(max_examples=60, deadline=None)
@given(value=st.floats(-1e9, 1e9, allow_nan=False))
def test_every_number_written_out_comes_back(value):
    assert number(repr(value)) == value


@pytest.mark.parametrize(
    ("text", "moment"),
    [
        ("2026-03-14T09:30:00+02:00", datetime(2026, 3, 14, 7, 30, tzinfo=UTC)),
        ("2026-03-14T09:30:00Z", datetime(2026, 3, 14, 9, 30, tzinfo=UTC)),
        ("2026-03-14 09:30", datetime(2026, 3, 14, 9, 30, tzinfo=UTC)),
        ("2026-03-14", datetime(2026, 3, 14, tzinfo=UTC)), ("14.03.2026 09:30", datetime(2026, 3, 14, 9, 30, tzinfo=UTC)),
        ("14/03/2026", datetime(2026, 3, 14, tzinfo=UTC)), ("2026/03/14 09:30:15", datetime(2026, 3, 14, 9, 30, 15, tzinfo=UTC)),
    ],
)  # fmt: skip
def test_moments_in_the_usual_forms(text, moment):
    assert when(text) == moment


@pytest.mark.parametrize("text", ["yesterday", "14", "32.01.2026", "1066-10-14", "9999-01-01"])
def test_what_is_no_moment_says_what_would_be(text):
    with pytest.raises(ValueError, match="2026-03-14"):
        when(text)


@settings(max_examples=40, deadline=None)
@given(seconds=st.integers(0, 3_000_000_000))
def test_every_moment_written_out_comes_back(seconds):
    moment = datetime(1995, 1, 1, tzinfo=UTC) + timedelta(seconds=seconds)
    assert when(moment.isoformat()) == moment


def test_each_wrong_cell_is_named_and_the_rest_of_its_row_is_read():
    table = read_table("tag,when,weight,note\n14,never,heavy,ok\n,2026-03-01,5,\nb7,2026-03-01,5,x")
    rows = read_rows(table, COLUMNS, table.guess(COLUMNS))
    assert [(r.line, [c.column for c in r.wrong]) for r in rows] == [
        (2, ["at", "mass"]),
        (3, ["tag"]),
        (4, []),
    ]
    assert rows[0].values["note"] == "ok" and rows[2].values["tag"] == "B7"
    assert rows[1].values["note"] is None  # empty and not required


def test_a_short_row_lacks_what_it_lacks():
    table = read_table("tag,when,weight\n14")
    (row,) = read_rows(table, COLUMNS, table.guess(COLUMNS))
    assert {c.column for c in row.wrong} == {"at", "mass"} and all(c.message for c in row.wrong)


def test_a_column_that_is_not_there_is_refused_at_its_field():
    table = read_table("tag,when,weight\n14,2026-03-01,5")
    for mapping, code in (
        ({"tag": "tag"}, "no-column"),
        ({"tag": "x", "at": "when", "mass": "weight"}, "no-such-column"),
    ):
        with pytest.raises(Impossible) as refused:
            read_rows(table, COLUMNS, mapping)
        assert refused.value.code == code and refused.value.field.startswith("mapping.")
