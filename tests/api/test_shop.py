"""The shop over HTTP, and the doors: sign-in, demo, first account."""

import pytest
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.test import Client

from tests.conftest import problem


def test_a_new_workshop_can_work_at_once(api):
    shop = api.get("/shop").json()
    assert shop["lathes"] and len(shop["jaws"]) == 3 and shop["plates"] and shop["places"][0]["emc_pct"] > 5


def test_the_house_way_reaches_the_card(api):
    tag = api.begin()

    def schools():
        return [
            v["school"] for v in api.get(f"/bench/{tag}/card/rough").json()["card"]["schools"][0]["verdicts"]
        ]

    assert schools() == ["tenth", "computed"]
    assert api.patch("/shop/way", {"rough_wall": "computed"}).status_code == 200
    assert schools() == ["computed", "tenth"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"rough_wall": "guess"}, "rough_wall"),
        ({"finish": "unobtainium"}, "finish"),
        ({"home_rh_pct": 130}, "home_rh_pct"),
        ({"grits": "80, 121"}, "grits"),
        ({"grits": " "}, "grits"),
        ({"worm_length_mm": 400}, "worm_length_mm"),
        ({"stop_loss_per_week_pct": 0}, "stop_loss_per_week_pct"),
        ({"mood": "good"}, "mood"),
    ],
)
def test_a_house_way_nobody_has_is_refused_and_nothing_changes(api, body, field):
    before = api.get("/shop").json()["way"]
    assert field in problem(api.patch("/shop/way", body))
    assert api.get("/shop").json()["way"] == before


LATHE = {"name": "Old iron", "swing_mm": 350, "min_rpm": 300, "max_rpm": 1500, "steps": "300, 500, 900"}


def test_lathes_are_added_changed_and_checked(api):
    made = api.post("/shop/lathes", LATHE).json()
    assert api.put(f"/shop/lathes/{made['id']}", {**LATHE, "swing_mm": 360}).json()["swing_mm"] == 360
    assert problem(api.post("/shop/lathes", {**LATHE, "name": "b", "min_rpm": 2000}))["min_rpm"]
    assert (
        "commas"
        in problem(api.post("/shop/lathes", {**LATHE, "name": "c", "steps": "fast"}))["steps"]["message"]
    )
    assert "already" in str(problem(api.post("/shop/lathes", LATHE)))


JAWS = {
    "name": "long",
    "tenon_low_mm": 40,
    "tenon_high_mm": 52,
    "recess_low_mm": 48,
    "recess_high_mm": 66,
    "depth_mm": 25,
}
PLATE = {"name": "discs", "kind": "reversing-plate", "low_mm": 90, "high_mm": 330, "rated_rpm": 800}


def test_jaws_and_plates_are_added_changed_removed_and_checked(api):
    jaws = api.post("/shop/jaws", JAWS).json()
    assert api.put(f"/shop/jaws/{jaws['id']}", {**JAWS, "depth_mm": 22}).json()["depth_mm"] == 22
    assert (
        problem(api.post("/shop/jaws", {**JAWS, "tenon_low_mm": 60}))["tenon_low_mm"]["code"] == "range-empty"
    )
    plate = api.post("/shop/plates", PLATE).json()
    assert api.put(f"/shop/plates/{plate['id']}", {**PLATE, "rated_rpm": 600}).json()["rated_rpm"] == 600
    unrated = {k: v for k, v in PLATE.items() if k != "rated_rpm"}
    assert "rated speed" in problem(api.post("/shop/plates", unrated))["rated_rpm"]["message"]
    for path, row in (("jaws", jaws), ("plates", plate)):
        assert api.delete(f"/shop/{path}/{row['id']}").status_code == 204
        assert problem(api.delete(f"/shop/{path}/{row['id']}"), 404)


def test_logs_stand_by_what_goes_off_first_and_impossible_ones_do_not_come_in(api):
    for species, felled in (("pear", "2026-05-01"), ("elm-wych", None), ("walnut-european", "2026-01-01")):
        api.post("/yard/logs", {"species": species, "felled_on": felled, "diameter_mm": 300})
    assert [log["species"] for log in api.get("/yard/logs").json()] == ["pear", "walnut-european", "elm-wych"]
    bad = lambda **b: problem(api.post("/yard/logs", {"species": "pear", **b}))  # noqa: E731
    assert "still to come" in bad(felled_on="2199-01-01")["felled_on"]["message"]
    assert bad(diameter_mm=200, pith_offset_mm=150)["pith_offset_mm"]["code"] == "pith-outside"
    assert "mm" in bad(length_mm=9e6)["length_mm"]["message"]
    assert len(api.get("/yard/species").json()) >= 45


def test_units_and_light_are_kept_per_person(api):
    assert api.patch("/account/me", {"length": "in", "mass": "oz", "theme": "dim"}).json()["length"] == "in"
    assert api.get("/account/me").json()["theme"] == "dim"
    assert "length" in problem(api.patch("/account/me", {"length": "cubit"}))


@pytest.fixture
def visitor(db):
    """A client with the CSRF check on, as a browser has."""
    client = Client(enforce_csrf_checks=True)
    client.get("/")
    return client


def sign_in(client, password, **headers):
    return client.post(
        "/api/account/sign-in",
        {"username": "ada", "password": password},
        content_type="application/json",
        headers=headers,
    )


def test_sign_in_wants_the_password_and_the_pages_token(visitor, workshop):
    token = visitor.cookies["csrftoken"].value
    assert problem(sign_in(visitor, "canal-barge-77"))[""]["code"] == "stale-page"
    assert (
        "belong together"
        in problem(sign_in(visitor, "wrong", **{"X-CSRFToken": token}))["password"]["message"]
    )
    me = sign_in(visitor, "canal-barge-77", **{"X-CSRFToken": token}).json()
    assert me["signed_in"] and me["workshop"] == "Lock cottage"
    without = visitor.post("/api/account/sign-out")
    assert "load it again" in problem(without, 403)[""]["message"]
    assert (
        visitor.post(
            "/api/account/sign-out", headers={"X-CSRFToken": visitor.cookies["csrftoken"].value}
        ).status_code
        == 204
    )
    assert visitor.get("/api/account/me").json()["signed_in"] is False


def test_too_many_wrong_passwords_lock_the_door_in_words(visitor, workshop):
    token = {"X-CSRFToken": visitor.cookies["csrftoken"].value}
    answers = [sign_in(visitor, "wrong", **token).status_code for _ in range(9)]
    assert answers[0] == 422 and answers[-1] == 429
    assert (
        "quarter of an hour"
        in problem(sign_in(visitor, "canal-barge-77", **token), 429)["password"]["message"]
    )


def test_the_demo_door_opens_only_where_it_was_asked_for(visitor, settings):
    token = {"X-CSRFToken": visitor.cookies["csrftoken"].value}
    from server.apps.shop.services import create_workshop

    create_workshop(name="Canal yard", username="canal-yard", password=None, is_demo=True)
    assert problem(visitor.post("/api/demo/enter", headers=token), 404)
    settings.DEMO = True
    assert (
        visitor.get("/api/account/me").json()["demo_door"]
        and not visitor.get("/api/account/me").json()["has_accounts"]
    )
    assert visitor.post("/api/demo/enter", headers=token).json()["is_demo"]


def test_the_first_account_is_made_by_a_command_that_says_what_to_try(db, capsys):
    call_command("create_account", "cleo", "--workshop", "Boathouse", "--password", "canal-barge-77")
    assert get_user_model().objects.get(username="cleo").check_password("canal-barge-77")
    with pytest.raises(CommandError, match="another name"):
        call_command("create_account", "cleo", "--password", "canal-barge-77")
    with pytest.raises(CommandError, match="short"):
        call_command("create_account", "dan", "--password", "abc")
