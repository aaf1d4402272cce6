"""Every way walked from blank to signature over HTTP, and what Today asks on the way."""

from datetime import UTC, datetime, timedelta

import pytest

from tests.conftest import problem

SIZES = {
    "rough": {"outside_diameter_mm": 280, "wall_mm": 28, "height_mm": 105, "bottom_mm": 34, "mass_g": 2450},
    "bore": {"outside_diameter_mm": 150, "wall_mm": 50, "height_mm": 240, "mass_g": 2600},
    "turn-green": {"final_diameter_mm": 200, "final_wall_mm": 6, "final_height_mm": 80, "bottom_mm": 9},
    "turn-dry": {"final_diameter_mm": 140, "final_wall_mm": 7},
    "turn": {
        "long_mm": 279,
        "short_mm": 265,
        "wall_long_mm": 27,
        "wall_short_mm": 26,
        "final_diameter_mm": 258,
        "final_wall_mm": 6,
    },
    "sand": {"last_grit": 320},
    "sign": {"signed_as": "Ada"},
}
WALKS = [
    ("twice-turned", "green", {"form": "side-grain-bowl"}),
    ("twice-turned", "part-dry", {"form": "side-grain-bowl", "species": "hornbeam"}),
    (
        "twice-turned",
        "green",
        {"form": "end-grain-vase", "diameter_mm": 150, "height_mm": 250, "species": "elm-wych"},
    ),
    (
        "once-green",
        "green",
        {"form": "natural-edge-bowl", "diameter_mm": 210, "height_mm": 90, "species": "pear"},
    ),
    ("from-dry", "dry", {"form": "side-grain-bowl", "species": "walnut-european"}),
    (
        "bored-branch",
        "green",
        {"form": "end-grain-vase", "diameter_mm": 155, "height_mm": 245, "species": "plane-london"},
    ),
]


@pytest.mark.parametrize(("way", "state", "change"), WALKS, ids=[f"{w}-{s}-{c['form']}" for w, s, c in WALKS])
def test_every_way_is_walked_to_its_signature(api, way, state, change):
    tag = api.begin(way=way, state=state, **change)
    at, kinds = datetime.now(UTC) - timedelta(days=200), []
    while (piece := api.get(f"/pieces/{tag}").json())["stage"] != "done":
        kind = piece["stage"]
        card = api.get(f"/bench/{tag}/card/{kind}").json()["card"]
        assert card["figures"] or card["steps"], kind
        assert [r["piece"]["tag"] for r in api.get("/today").json()["rows"]] in ([tag], [])
        at += timedelta(days=60 if kind == "dry" else 1)
        done = api.post(f"/bench/{tag}/done/{kind}", {"notes": SIZES.get(kind, {}), "at": at.isoformat()})
        assert done.status_code == 200, (kind, done.content)
        kinds.append(kind)
        drying = [row["tag"] for row in api.get("/drying").json()]
        assert drying == ([tag] if done.json()["stage"] == "dry" else [])
    assert kinds == [s["kind"] for s in piece["stages"]]
    record = api.get(f"/bench/{tag}/record").json()
    assert record["care"] and len(record["piece"]["stages"]) == len(kinds)
    assert api.get("/today").json()["rows"] == []


def only_need(api):
    (row,) = api.get("/today").json()["rows"]
    return row["group"], row["why"]["code"], row["action"]


def test_today_follows_a_piece_from_blank_to_coats(api):
    tag = api.begin()
    assert only_need(api) == ("turn", "blank-waits", "bench")
    api.rough(tag, days_ago=30)
    assert only_need(api) == ("soon", "no-forecast", "drying")
    api.post("/drying/refresh", {})
    assert only_need(api)[:2] in (("look", "drying-fast"), ("weigh", "never-weighed"))
    asked = api.weigh(tag, 9.0).json()
    assert only_need(api) == ("look", "questioned", "drying")
    api.post(
        f"/drying/weigh-ins/{asked['id']}/correct",
        {"key": "7b1c3c1e-58a5-4f0e-9d7e-0d8f6f1b2a11", "mass_g": 1400},
    )
    api.post("/drying/refresh", {})
    assert "questioned" not in [row["why"]["code"] for row in api.get("/today").json()["rows"]]
    api.post(f"/bench/{tag}/done/dry", {})
    assert only_need(api) == ("turn", "to-turn", "bench")
    for kind in ("turn", "sand"):
        api.post(f"/bench/{tag}/done/{kind}", {"notes": SIZES[kind]})
    assert only_need(api) == ("coat", "first-coat", "bench")
    api.post(f"/pieces/{tag}/coats", {})
    assert only_need(api) == ("soon", "coat-soon", "bench")
    api.delete(f"/pieces/{tag}/coats/last")
    api.post(f"/pieces/{tag}/coats", {"at": (datetime.now(UTC) + timedelta(minutes=2)).isoformat()})
    for _ in range(2):
        api.post(f"/pieces/{tag}/coats", {"at": (datetime.now(UTC) + timedelta(minutes=3)).isoformat()})
    assert only_need(api) == ("turn", "coats-on", "bench")


def test_a_room_too_cold_for_the_house_finish_is_something_to_look_at(api):
    tag = api.begin(state="dry")
    for kind in ("turn-dry", "sand"):
        api.post(f"/bench/{tag}/done/{kind}", {"notes": SIZES[kind]})
    api.patch("/shop/way", {"finish_room_c": 6})
    assert only_need(api) == ("look", "too-cold", "bench")
    card = api.get(f"/bench/{tag}/card/coat").json()["card"]
    assert "12 °C" in card["cautions"][0]["text"]["template"].format(
        finish="x", least_c="12 °C", room_c="6 °C"
    )
    api.patch("/shop/way", {"finish": "oil-wax"})
    assert only_need(api) == ("coat", "first-coat", "bench")


def test_a_coat_before_the_one_before_it_or_still_to_come_is_refused(api):
    tag = api.begin(state="dry")
    for kind in ("turn-dry", "sand"):
        api.post(f"/bench/{tag}/done/{kind}", {"notes": SIZES[kind]})
    api.post(f"/pieces/{tag}/coats", {})
    earlier = (datetime.now(UTC) - timedelta(days=1)).isoformat()
    later = (datetime.now(UTC) + timedelta(days=1)).isoformat()
    assert problem(api.post(f"/pieces/{tag}/coats", {"at": earlier}))["at"]["code"] == "before-last-coat"
    assert problem(api.post(f"/pieces/{tag}/coats", {"at": later}))["at"]["code"] == "future"
    assert len(api.get(f"/pieces/{tag}").json()["coats"]) == 1


def test_drying_taken_back_goes_on_where_it_was(api):
    tag = api.begin()
    api.rough(tag, days_ago=30, mass_g=2450)
    api.post(f"/bench/{tag}/done/dry", {})
    api.post(f"/bench/{tag}/take-back")
    drying = api.get(f"/drying/{tag}").json()
    assert [w["mass_g"] for w in drying["weigh_ins"]] == [2450]
    assert drying["row"]["started_at"] < (datetime.now(UTC) - timedelta(days=29)).isoformat()
