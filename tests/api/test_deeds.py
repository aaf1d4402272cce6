"""What is done while a piece dries, over HTTP: kept once, refused in words, and never stale."""

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from icalendar import Calendar

from server.apps.drying.models import DryingRun, PlanStep
from server.apps.shop.models import ClimateReading
from server.apps.shop.services import add_readings
from tests.conftest import problem


def ago(days):
    return (datetime.now(UTC) - timedelta(days=days)).isoformat()


@pytest.fixture
def tag(api):
    found = api.begin(tag="41")
    api.rough(found, mass_g=2450)
    return found


def one(api, tag):
    return api.get(f"/drying/{tag}").json()


def refreshed(api, tag):
    api.post("/drying/refresh", {"tags": [tag]})
    return one(api, tag)


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("meter", {"key": str(uuid4()), "shown_pct": 24.0}),
        ("goes", {"key": str(uuid4()), "power_w": 900, "seconds": 60, "before_g": 2300}),
        ("turned", {"wall_mm": 20, "bottom_mm": 24, "before_g": 2300, "after_g": 1700}),
    ],
)
def test_every_deed_makes_the_forecast_stale_and_the_next_one_uses_it(api, tag, path, body):
    before = refreshed(api, tag)
    answer = api.post(f"/drying/{tag}/{path}", body)
    assert answer.status_code == 201, answer.content
    assert answer.json()["row"]["stale"]
    after = refreshed(api, tag)
    assert not after["row"]["stale"]
    assert after["row"]["now"]["mc_pct"] != before["row"]["now"]["mc_pct"]


def test_a_meter_reading_is_corrected_for_the_wood_once_and_kept_once(api, tag):
    api.patch("/shop/instruments", {"meter_corrections": {"ash-european": 1.5}})
    key = str(uuid4())
    for _ in range(2):
        found = api.post(f"/drying/{tag}/meter", {"key": key, "shown_pct": 18.0, "wood_c": 10}).json()
    assert [m["mc_pct"] for m in found["meter"]] == [pytest.approx(18.0 * 1.08 + 1.5)]
    bad = api.post(f"/drying/{tag}/meter", {"key": str(uuid4()), "shown_pct": 400})
    assert "6 to 60" in problem(bad)["shown_pct"]["message"]
    early = api.post(f"/drying/{tag}/meter", {"key": str(uuid4()), "shown_pct": 18, "at": ago(400)})
    assert problem(early)["at"]["code"] == "before-drying"


def test_goes_wait_for_the_weight_of_the_last_one(api, tag):
    refreshed(api, tag)
    plan = api.get(f"/drying/{tag}/microwave?mass_g=2300").json()
    assert plan["seconds"] == 120 and plan["goes_left"] > 10 and not plan["stop"]
    assert "mw-thick" in [c["text"]["code"] for c in plan["cautions"]]
    body = {"key": str(uuid4()), "power_w": 900, "seconds": 60, "before_g": 2300}
    go = api.post(f"/drying/{tag}/goes", body).json()["goes"][0]
    assert api.post(f"/drying/{tag}/goes", body).json()["goes"] == [go]  # sent twice, kept once
    second = api.post(f"/drying/{tag}/goes", {**body, "key": str(uuid4())})
    assert problem(second)["before_g"]["code"] == "weigh-first"
    gained = api.post(f"/drying/{tag}/goes/{go['id']}", {"after_g": 2400})
    assert problem(gained)["after_g"]["code"] == "gained"
    done = api.post(f"/drying/{tag}/goes/{go['id']}", {"after_g": 2291}).json()
    assert done["goes"][0]["after_g"] == 2291
    assert "metal" in problem(api.get(f"/drying/{tag}/microwave?metal=true"))


def test_turned_again_the_mass_jumps_and_expects_the_new_weight(api, tag):
    refreshed(api, tag)
    before = api.get(f"/drying/expected?tag={tag}").json()["mass_g"]
    done = api.post(f"/drying/{tag}/turned", {"wall_mm": 20, "bottom_mm": 24, "after_g": round(0.7 * before)})
    assert done.json()["turnings"][0]["before_g"] == pytest.approx(before, abs=1.0)
    refreshed(api, tag)
    assert api.get(f"/drying/expected?tag={tag}").json()["mass_g"] == pytest.approx(0.7 * before, rel=0.02)
    assert api.weigh(tag, round(0.7 * before)).json()["state"] == "accepted"
    thick = api.post(f"/drying/{tag}/turned", {"wall_mm": 40, "bottom_mm": 44, "after_g": 900})
    assert problem(thick)["wall_mm"]["code"] == "thicker-after"
    heavy = api.post(
        f"/drying/{tag}/turned", {"wall_mm": 15, "bottom_mm": 18, "before_g": 900, "after_g": 1000}
    )
    assert problem(heavy)["after_g"]["code"] == "heavier-after"


def test_a_split_piece_goes_on_as_parts_that_know_what_it_learnt(api, tag, workshop):
    api.weigh(tag, 2200, days_ago=15)
    api.weigh(tag, 2020, days_ago=8)
    refreshed(api, tag)
    half = {"diameter_mm": 200, "height_mm": 80, "wall_mm": 20, "bottom_mm": 24, "mass_g": 800}
    made = api.post(f"/drying/{tag}/split", {"parts": [half, {**half, "tag": "41B"}]})
    assert made.status_code == 201, made.content
    tags = made.json()["tags"]
    assert tags[1] == "41B" and one(api, "41B")["weigh_ins"][0]["mass_g"] == 800
    brings = DryingRun.objects.get(piece__tag="41B").brings
    assert len(brings["profile"]) == 12 and brings["profile"][0] > brings["profile"][-1]
    assert brings["ln_k_sd"] < 0.5 and 20 < brings["mc_pct"] < 90
    assert refreshed(api, "41B")["row"]["now"] is not None
    assert api.get(f"/drying/{tag}").status_code == 404  # the whole dries no more
    assert api.get(f"/pieces/{tag}").json()["stage_title"] == "Split"
    kin = api.get("/pieces/41B/lineage").json()
    assert [a["tag"] for a in kin["ancestors"]] == [tag]
    assert {p["tag"] for p in api.get(f"/pieces/{tag}/lineage").json()["parts"]} == set(tags)
    assert problem(api.post(f"/drying/{tags[0]}/split", {"parts": [half]}))["parts"]["code"] == "one-part"


def test_what_if_for_a_drying_piece_and_for_a_blank(api, tag):
    refreshed(api, tag)
    ways = {w["key"]: w for w in api.get(f"/drying/{tag}/what-if").json()["ways"]}
    assert {"as-it-is", "shelf", "bag", "sealed", "plastic", "box", "microwave"} == set(ways)
    assert ways["box"]["risk"] > ways["sealed"]["risk"]
    assert all(w["oval_mm"] > 2 for w in ways.values())
    blank = api.begin(tag="B1")
    asked = api.get(f"/drying/{blank}/what-if").json()
    assert not asked["drying"] and "whole" in [w["key"] for w in asked["ways"]]
    dry = api.begin(tag="D1", state="dry")
    api.post(f"/bench/{dry}/done/turn-dry", {"notes": {}})
    assert api.get("/drying/NONE/what-if").status_code == 404


def test_a_chosen_way_enters_today_and_the_calendar(api, tag):
    refreshed(api, tag)
    chosen = api.post(f"/drying/{tag}/what-if", {"way": "bag"}).json()
    into, out = chosen["steps"]
    assert into["done_at"] and not out["done_at"]
    assert chosen["stays"][-1]["wrap"] == "paper-bag"
    events = [
        str(e["summary"]) for e in Calendar.from_ical(api.get("/drying/calendar.ics").content).walk("VEVENT")
    ]
    assert any("Out of the bag" in words for words in events)
    PlanStep.objects.filter(id=out["id"]).update(due_at=datetime.now(UTC) - timedelta(hours=2))
    refreshed(api, tag)
    due = [r for r in api.get("/today").json()["rows"] if r["piece"]["tag"] == tag]
    assert [r["group"] for r in due] == ["look"] * len(due)
    assert any("Out of the bag" in r["why"]["template"] for r in due)
    done = api.post(f"/drying/steps/{out['id']}/done", {}).json()
    assert done["steps"][-1]["done_at"] and done["stays"][-1]["wrap"] == "open-shelf"
    assert api.post(f"/drying/steps/{out['id']}/done", {}).status_code == 200  # twice is once
    assert problem(api.post(f"/drying/{tag}/what-if", {"way": "whole"}))["way"]["code"] == "no-such-way"


def test_a_new_choice_replaces_the_steps_still_open(api, tag):
    api.post(f"/drying/{tag}/what-if", {"way": "plastic"})
    steps = api.post(f"/drying/{tag}/what-if", {"way": "sealed"}).json()["steps"]
    assert [s["way"] for s in steps if not s["done_at"]] == []
    assert one(api, tag)["stays"][-1]["ends_sealed"] is True


def test_many_are_moved_at_once_or_none(api, tag):
    second = api.begin(tag="42")
    api.rough(second, mass_g=2450)
    cellar = api.post("/shop/places", {"name": "Cellar", "air_c": 12, "rh_pct": 65}).json()["id"]
    done = api.post("/drying/bulk", {"tags": [tag, second], "place_id": cellar, "wrap": "waxed"})
    assert done.json() == {"moved": 2}
    assert {one(api, t)["stays"][-1]["place"] for t in (tag, second)} == {"Cellar"}
    sealed = api.post("/drying/bulk", {"tags": [tag, second], "ends_sealed": True})
    assert sealed.json()["moved"] == 2 and one(api, tag)["stays"][-1]["wrap"] == "waxed"
    assert (
        "NONE"
        in problem(api.post("/drying/bulk", {"tags": [tag, "NONE"], "wrap": "paper-bag"}))["tags"]["message"]
    )
    before = one(api, tag)["stays"]
    odd = api.post("/drying/bulk", {"tags": [tag, second], "wrap": "paper-bag", "at": ago(300)})
    assert odd.status_code == 422 and one(api, tag)["stays"] == before


def test_a_control_is_compared_in_shares_of_the_first_weight(api, tag):
    control = api.begin(tag="42")
    api.rough(control, mass_g=2500)
    api.weigh(control, 2250, days_ago=5)
    pair = api.post(f"/drying/{tag}/pair", {"tag": control}).json()["control"]
    assert pair["tag"] == control and pair["share_pct"] == [100.0, 90.0]
    assert one(api, control)["control"]["tag"] == tag  # read from either side
    assert api.post(f"/drying/{tag}/pair", {}).json()["control"] is None
    assert problem(api.post(f"/drying/{tag}/pair", {"tag": tag}))["tag"]["code"] == "own-control"


def test_a_damp_bag_that_moulds_is_looked_at(api, tag):
    place = api.get("/shop").json()["places"][0]["id"]
    api.post(
        f"/drying/{tag}/stays",
        {"place_id": place, "wrap": "plastic-loose", "at": one(api, tag)["row"]["started_at"]},
    )
    DryingRun.objects.update(started_at=datetime.now(UTC) - timedelta(days=80))
    DryingRun.objects.get().stays.update(started_at=datetime.now(UTC) - timedelta(days=80))
    row = refreshed(api, tag)["row"]
    assert row["now"]["mould_level"] == "stop"
    assert "mould" in [r["why"]["code"] for r in api.get("/today").json()["rows"]]


# -- air -------------------------------------------------------------------------------------


def test_seasons_and_readings_reach_the_forecast(api, tag, workshop):
    place = workshop.places.first()
    before = refreshed(api, tag)["row"]
    body = {"name": place.name, "air_c": 18, "rh_pct": 50}
    saved = api.put(f"/shop/places/{place.id}", {**body, "seasons": {"winter": [4, 85], "summer": [22, 55]}})
    assert saved.json()["seasons"] == {"winter": [4, 85], "summer": [22, 55]}
    assert one(api, tag)["row"]["stale"]
    assert refreshed(api, tag)["row"]["ready_middle"] != before["ready_middle"]
    now = datetime.now(UTC)
    rows = [(now - timedelta(hours=6 * i), 24.0, 35.0) for i in range(4 * 28)]
    place.refresh_from_db()
    assert add_readings(place, rows) == len(rows) and add_readings(place, rows) == 0
    assert one(api, tag)["row"]["stale"]
    climate = api.get(f"/shop/places/{place.id}/climate").json()
    assert climate["readings"] == len(rows) and climate["spells"][-1]["air_c"] == 24.0
    bad = api.put(f"/shop/places/{place.id}", {**body, "seasons": {"monsoon": [25, 95]}})
    assert problem(bad)["seasons"]["code"] == "unknown"


def test_the_box_question_is_answered(api):
    place = api.get("/shop").json()["places"][0]["id"]
    found = api.get(f"/drying/box?target_mc_pct=8&box_c=35&place_id={place}").json()
    assert 35 < found["rh_pct"] < 55
    assert problem(api.get(f"/drying/box?target_mc_pct=60&box_c=35&place_id={place}"))["target_mc_pct"]


# -- tables ----------------------------------------------------------------------------------


def table(api, text, **change):
    return api.post("/drying/weigh-ins/table", {"text": text, **change})


def test_weights_go_out_and_come_back_with_nothing_lost(api, tag, other):
    api.weigh(tag, 2400, days_ago=15)
    odd = api.weigh(tag, 24000, days_ago=10).json()
    api.post(f"/drying/weigh-ins/{odd['id']}/correct", {"key": str(uuid4()), "mass_g": 2350, "typed": "2350"})
    text = api.get("/drying/weigh-ins.csv").content.decode()
    back = other.begin(tag="41")
    other.rough(back, days_ago=21.0)
    looked = table(other, text).json()
    assert (looked["new"], looked["known"], looked["wrong"], looked["kept"]) == (4, 0, 0, False)
    assert one(other, back)["weigh_ins"] == []
    assert table(other, text, keep=True).json()["kept"]

    def plain(rows):
        return [(w["mass_g"], w["typed"], w["state"], w["at"], bool(w["corrects_id"])) for w in rows]

    assert plain(one(other, back)["weigh_ins"]) == plain(one(api, tag)["weigh_ins"])
    assert table(other, text, keep=True).json()["known"] == 4  # sent twice, kept once
    again = other.get("/drying/weigh-ins.csv").content.decode()
    assert again.replace(",bea\n", ",ada\n") == text  # only who sent it is another


def test_a_table_with_wrong_rows_keeps_nothing_and_names_each(api, tag):
    text = f"""Tag;Date;Weight
41;{ago(3)};2,39
41;not a date;2,38
99;{ago(2)};2,37
41;{ago(400)};2,36
41;{ago(1)};heavy
41;{ago(-3)};2,35
"""
    found = table(api, text, unit="kg").json()
    wrong = {r["line"]: [c["column"] for c in r["wrong"]] for r in found["rows"] if r["wrong"]}
    assert wrong == {3: ["at"], 4: ["tag"], 5: ["at"], 6: ["mass"], 7: ["at"]}
    assert found["wrong"] == 5 and found["mapping"] == {"tag": "Tag", "at": "Date", "mass": "Weight"}
    kept = table(api, text, unit="kg", keep=True)
    assert "5 rows" in problem(kept)["text"]["message"]
    assert len(one(api, tag)["weigh_ins"]) == 1


def test_a_table_in_kilograms_or_ounces_says_the_same(api, tag):
    at = ago(2)
    for unit, figure in (("kg", "2.380"), ("oz", "83.9520")):
        found = table(api, f"tag,when,weight\n41,{at},{figure}\n", unit=unit).json()
        assert found["rows"][0]["mass_g"] == pytest.approx(2380.0, abs=0.1)
    assert problem(table(api, f"tag,at,mass\n41,{at},5\n", unit="stone"))["unit"]


def test_columns_are_mapped_by_hand_where_they_cannot_be_guessed(api, tag):
    text = f"who\twhenever\twhat\n41\t{ago(2)}\t2380\n"
    looked = table(api, text).json()
    assert (
        looked["header"] == ["who", "whenever", "what"]
        and looked["rows"] == []
        and "tag" not in looked["mapping"]
    )
    assert problem(table(api, text, keep=True))["mapping.tag"]["code"] == "no-column"
    found = table(api, text, mapping={"tag": "who", "at": "whenever", "mass": "what"}, keep=True)
    assert found.json()["new"] == 1
    assert problem(table(api, text, mapping={"tag": "x", "at": "whenever", "mass": "what"}))["mapping.tag"]


def test_odd_weights_of_a_table_are_asked_about_not_refused(api, tag):
    refreshed(api, tag)
    found = table(api, f"tag,at,mass\n41,{ago(1)},17500\n", keep=True).json()
    assert found["questioned"] == 1 and "zero too many" in found["rows"][0]["question"]
    assert one(api, tag)["weigh_ins"][-1]["state"] == "questioned"


@pytest.mark.parametrize("text", ["", "tag,at,mass\n", "tag,tag\n1,2\n", '"' * 999])
def test_files_that_are_no_table_are_refused_in_words(api, text):
    assert table(api, text).status_code == 422


def test_air_comes_in_from_a_table_in_either_scale(api, workshop):
    place = workshop.places.first()
    rows = "\n".join(f"{ago(i / 2)},{68.0},{45 + i % 3}" for i in range(1, 60))
    path = f"/shop/places/{place.id}/climate/table"
    text = f"Timestamp,Temp F,RH\n{rows}\n"
    assert api.post(path, {"text": text, "unit": "f"}).json()["new"] == 59
    assert ClimateReading.objects.count() == 0
    assert api.post(path, {"text": text, "unit": "f", "keep": True}).json()["kept"]
    assert ClimateReading.objects.first().air_c == 20.0
    assert api.post(path, {"text": text, "unit": "f", "keep": True}).json()["known"] == 59
    out = api.get(f"/shop/places/{place.id}/climate.csv").content.decode()
    assert out.count("\n") == 60
    bad = api.post(path, {"text": f"at,temp,rh\n{ago(1)},20,140\n"}).json()
    assert bad["rows"][0]["wrong"][0]["column"] == "humidity"
    assert problem(api.post(path, {"text": f"at,temp,rh\n{ago(1)},20,140\n", "keep": True}))["text"]


def test_the_calendar_holds_weighings_and_likely_dates(api, tag):
    refreshed(api, tag)
    answer = api.get("/drying/calendar.ics")
    assert answer.headers["Content-Type"].startswith("text/calendar")
    words = [str(e["summary"]) for e in Calendar.from_ical(answer.content).walk("VEVENT")]
    assert any(w.startswith("Weigh 41") for w in words)
    assert all(e["dtstart"].dt.tzinfo for e in Calendar.from_ical(answer.content).walk("VEVENT"))


def test_wrong_wood_or_sizes_are_mended_where_the_weights_tell_of_it(api, tag):
    """A calm wood called by the name of a dense one: its rate and dry mass give it away."""
    api.patch(f"/pieces/{tag}", {"species": "hornbeam"})
    for day, grams in ((18, 1650), (14, 1420), (9, 1260), (4, 1150), (1, 1110)):
        row = api.weigh(tag, grams, days_ago=day).json()
        if row["state"] == "questioned":
            api.post(f"/drying/weigh-ins/{row['id']}/accept")
    odd = {w["code"] for w in refreshed(api, tag)["row"]["warnings"]}
    assert odd & {"odd-rate", "odd-dry-mass", "data-contradict-model"}
    mended = api.patch(f"/drying/{tag}/sizes", {"wall_mm": 14, "bottom_mm": 17}).json()
    assert mended["wall_mm"] == 14 and mended["row"]["stale"]
    before = one(api, tag)["dry_mass_g"]
    api.patch(f"/pieces/{tag}", {"species": "basswood"})
    assert refreshed(api, tag)["dry_mass_g"] != before
    assert problem(api.patch(f"/drying/{tag}/sizes", {"wall_mm": 400}))["wall_mm"]
    assert one(api, tag)["wall_mm"] == 14


def test_the_air_it_lay_in_stands_beside_its_curve(api, tag, workshop):
    place = workshop.places.first()
    body = {"name": place.name, "air_c": 18, "rh_pct": 50, "seasons": {"winter": [4, 85], "summer": [22, 45]}}
    api.put(f"/shop/places/{place.id}", body)
    steps = [step["emc_pct"] for step in one(api, tag)["air"]]
    assert len(set(steps)) >= 3 and max(steps) > 15 > 9 > min(steps)
