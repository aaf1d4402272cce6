"""Pieces over HTTP: begun with little, refused in words, followed through their stages."""

from datetime import UTC, datetime, timedelta

import pytest

from tests.conftest import problem


def test_two_sizes_are_enough_and_a_tag_is_given(api):
    made = api.post("/pieces", {"diameter_mm": 290, "height_mm": 115}).json()
    assert made["tag"] == "1" and made["species"] == "unknown-hardwood"
    assert made["finish_diameter_mm"] == 260 and made["way"] == "twice-turned"
    assert [s["state"] for s in made["stages"]] == ["active"] + ["waiting"] * 6
    assert api.begin() == "2"


def test_a_suggestion_keeps_nothing(api):
    plan = api.post("/pieces/suggest", {"diameter_mm": 200, "height_mm": 80, "state": "dry"}).json()
    assert plan["way"] == "from-dry" and plan["stages"][0]["why"]["template"]
    assert api.get("/pieces").json() == []


@pytest.mark.parametrize(
    ("body", "field", "words"),
    [
        ({"diameter_mm": 290}, "height_mm", "still to be filled in"),
        ({"diameter_mm": "wide", "height_mm": 115}, "diameter_mm", "number"),
        ({"diameter_mm": 2900, "height_mm": 115}, "diameter_mm", "between 30 mm and 1200 mm"),
        ({"diameter_mm": 450, "height_mm": 115}, "diameter_mm", "400 mm"),
        ({"diameter_mm": 290, "height_mm": 115, "finish_diameter_mm": 310}, "finish_diameter_mm", "290 mm"),
        (
            {"diameter_mm": 290, "height_mm": 115, "finish_wall_mm": 59, "finish_diameter_mm": 100},
            "finish_wall_mm",
            "50 mm",
        ),
        ({"diameter_mm": 290, "height_mm": 115, "tag": "a b!"}, "tag", "letters, digits or dashes"),
        ({"diameter_mm": 290, "height_mm": 115, "colour": "red"}, "colour", "no such field"),
        ({"diameter_mm": 290, "height_mm": 115, "species": "mithril"}, "species", "mithril"),
        ({"diameter_mm": 290, "height_mm": 115, "way": "from-dry"}, "way", "dry"),
        ({"diameter_mm": 290, "height_mm": 115, "name": "x" * 81}, "name", "80"),
        ({"diameter_mm": 290, "height_mm": 115, "name": "a\u0000b"}, "name", "cannot be kept"),
    ],
)
def test_what_cannot_be_is_refused_next_to_its_field(api, body, field, words):
    assert words in problem(api.post("/pieces", body))[field]["message"]


def test_a_tag_that_is_taken_names_a_free_one(api):
    tag = api.begin(tag="b-7")
    assert tag == "B-7"
    assert (
        "1 is free"
        in problem(api.post("/pieces", {"diameter_mm": 200, "height_mm": 80, "tag": "B-7"}))["tag"]["message"]
    )
    other = api.begin()
    assert problem(api.patch(f"/pieces/{other}", {"tag": "b-7"}))["tag"]["code"] == "tag-taken"


def test_all_figures_follow_when_the_blank_changes(api):
    tag = api.begin()
    card = lambda: api.get(f"/bench/{tag}/card/rough").json()["card"]  # noqa: E731
    before = card()
    tried = api.post(f"/bench/{tag}/card/rough/try", {"figures": {"diameter_mm": 285.75}}).json()["card"]
    assert card() == before
    api.patch(f"/pieces/{tag}", {"diameter_mm": 285.75})
    after = card()
    assert (
        after == tried
        and after["drawing"]["blank_radius_mm"] == 142.875
        and after["figures"] != before["figures"]
    )


def test_a_figure_tried_is_refused_at_its_field(api):
    tag = api.begin()
    try_it = lambda **figures: api.post(f"/bench/{tag}/card/rough/try", {"figures": figures})  # noqa: E731
    assert "swings" in problem(try_it(diameter_mm=460))["diameter_mm"]["message"]
    assert problem(try_it(finish_wall_mm="thick"))["finish_wall_mm"]["code"] == "not-a-number"
    assert (
        problem(api.patch(f"/pieces/{tag}", {"finish_diameter_mm": 320}))["finish_diameter_mm"]["params"][
            "diameter_mm"
        ]
        == 290
    )


def test_stages_go_in_order_and_can_be_taken_back(api):
    tag = api.begin()
    assert problem(api.post(f"/bench/{tag}/done/sand", {}))["stage"]["code"] == "not-in-hand"
    missing = problem(api.post(f"/bench/{tag}/done/rough", {"notes": {"outside_diameter_mm": 280}}))
    assert "Wall" in missing["wall_mm"]["message"]
    done = api.rough(tag, mass_g=2450, words="a knot at the rim")
    assert done["stage"] == "dry" and done["stages"][0]["notes"]["words"] == "a knot at the rim"
    back = api.post(f"/bench/{tag}/take-back").json()
    assert back["stage"] == "rough" and back["stages"][0]["notes"]["wall_mm"] == 28
    assert problem(api.post(f"/bench/{tag}/take-back"))["stage"]["code"] == "nothing-done"


def test_taking_back_never_loses_a_weight(api):
    tag = api.begin()
    api.rough(tag, mass_g=2450)
    api.weigh(tag, 2390, days_ago=16)
    assert problem(api.post(f"/bench/{tag}/take-back"))["stage"]["code"] == "already-weighed"
    assert len(api.get(f"/drying/{tag}").json()["weigh_ins"]) == 2


def test_a_date_to_come_and_one_before_the_last_stage_are_refused(api):
    tag = api.begin()
    later = (datetime.now(UTC) + timedelta(days=2)).isoformat()
    notes = {"outside_diameter_mm": 280, "wall_mm": 28}
    assert (
        "still to come"
        in problem(api.post(f"/bench/{tag}/done/rough", {"notes": notes, "at": later}))["at"]["message"]
    )
    api.rough(tag, days_ago=5)
    earlier = (datetime.now(UTC) - timedelta(days=9)).isoformat()
    assert problem(api.post(f"/bench/{tag}/done/dry", {"at": earlier}))["at"]["code"] == "before-last-stage"


def test_the_way_can_change_only_before_work_begins(api):
    tag = api.begin()
    changed = api.patch(f"/pieces/{tag}", {"way": "once-green"}).json()
    assert changed["stages"][0]["kind"] == "turn-green"
    api.patch(f"/pieces/{tag}", {"way": "twice-turned"})
    api.rough(tag)
    assert problem(api.patch(f"/pieces/{tag}", {"way": "once-green"}))["way"]["code"] == "already-begun"


def to_coats(api, **change):
    tag = api.begin(state="dry", **change)
    api.post(f"/bench/{tag}/done/turn-dry", {"notes": {"final_diameter_mm": 270, "final_wall_mm": 6}})
    api.post(f"/bench/{tag}/done/sand", {"notes": {"finish": "shellac"}})
    return tag


def test_the_finish_chosen_at_sanding_reaches_the_coats_and_they_are_dated(api):
    tag = to_coats(api, purpose="show")
    card = api.get(f"/bench/{tag}/card/coat").json()
    assert [c["what"] for c in card["coats"]][:2] == ["shellac sealer"] * 2 and card["coats"][0][
        "given_at"
    ] is None
    api.post(f"/pieces/{tag}/coats", {})
    card = api.get(f"/bench/{tag}/card/coat").json()
    assert card["coats"][0]["given_at"] and card["coats"][1]["due_at"] > card["coats"][0]["given_at"]
    assert card["cured_at"] > card["coats"][-1]["due_at"]
    for _ in range(3):
        api.post(f"/pieces/{tag}/coats", {})
    assert problem(api.post(f"/pieces/{tag}/coats", {}))["coat"]["code"] == "all-given"
    assert len(api.delete(f"/pieces/{tag}/coats/last").json()["coats"]) == 3


def test_a_room_too_cold_for_the_finish_is_refused_at_the_room(api):
    tag = to_coats(api)
    card = api.post(f"/bench/{tag}/card/coat/try", {"figures": {"finish": "hard-wax-oil", "room_c": 5}})
    assert "12 °C" in problem(card)["room_c"]["message"]
    kept = api.put(f"/bench/{tag}/card/coat/notes", {"figures": {"finish": "oil-wax", "room_c": 15}}).json()
    assert kept["card"]["inputs"][0]["value"] == "oil-wax"


def test_a_finished_piece_has_its_life_and_care_on_one_page(api):
    tag = to_coats(api, name="Gate bowl")
    for kind, notes in (("coat", {}), ("foot", {}), ("sign", {"signed_as": "Ada", "price": 95})):
        answer = api.post(f"/bench/{tag}/done/{kind}", {"notes": notes})
        assert answer.status_code == 200, answer.content
    record = api.get(f"/bench/{tag}/record").json()
    assert record["piece"]["finished_at"] and "shellac" in record["care"]["params"]["finish"]
    assert [e["verb"] for e in record["events"]].count("stage-done") == 5
    assert record["labels"]["final_diameter_mm"] == "Final diameter"


def test_a_stage_whose_figures_no_longer_work_says_why_and_offers_the_mend(api, workshop):
    tag = api.begin()
    workshop.lathes.update(swing_mm=250)
    card = api.get(f"/bench/{tag}/card/rough").json()["card"]
    assert "250" in str(card["cautions"]) and "diameter_mm" in [f["name"] for f in card["inputs"]]


def test_reckoner_needs_no_piece(api):
    answer = api.post("/bench/reckon/speed", {"swing_mm": 279.4, "stage": "true"}).json()
    assert answer["speed"]["high"] == 810 and answer["speed"]["limits"]
    assert "swings" in problem(api.post("/bench/reckon/speed", {"swing_mm": 480}))["diameter_mm"]["message"]
