"""Instruments reached from the app: set up under Shop, read where they are, refused elsewhere."""

import pytest

from kilndevices.stands import LineStand, LoggerStand, MeterLines, ScaleLines
from server.apps.shop.reach import within_reach
from tests.conftest import problem


@pytest.fixture
def stands():
    made = {
        "scale": LineStand(ScaleLines(1480.0), every_s=0.01).start(),
        "meter": LineStand(MeterLines(14.2), every_s=0.01).start(),
        "logger": LoggerStand(days=20).start(),
    }
    yield made
    for stand in made.values():
        stand.shutdown()
        stand.server_close()


def test_the_scale_is_read_once_it_is_set_up(api, stands):
    assert api.get("/drying/scale").json()["state"] == "none"
    assert api.patch("/shop/instruments", {"scale_url": stands["scale"].url}).status_code == 200
    assert api.get("/drying/scale").json() == {"mass_g": 1480.0, "state": "steady", "words": "Steady."}
    api.patch("/shop/instruments", {"scale_url": "socket://127.0.0.1:9"})
    lost = api.get("/drying/scale").json()
    assert lost["state"] == "unreachable" and "Shop" in lost["words"]


def test_the_meter_is_read_the_same_way(api, stands):
    assert api.get("/drying/meter").json()["state"] == "none"
    api.patch("/shop/instruments", {"meter_url": stands["meter"].url})
    assert api.get("/drying/meter").json()["shown_pct"] == pytest.approx(14.2, abs=0.2)


def test_a_places_logger_is_read_and_each_moment_kept_once(api, stands, workshop):
    place = workshop.places.first()
    path = f"/shop/places/{place.id}"
    assert problem(api.post(f"{path}/climate/read"))["logger_url"]["code"] == "no-logger"
    body = {"name": place.name, "air_c": 18, "rh_pct": 50, "logger_url": stands["logger"].url}
    assert api.put(path, body).json()["logger_url"] == stands["logger"].url
    first = api.post(f"{path}/climate/read").json()
    assert first["new"] == first["readings"] == 81 and len(first["spells"]) >= 1
    assert api.post(f"{path}/climate/read").json()["new"] == 0
    api.put(path, {**body, "logger_url": "http://127.0.0.1:9/air.json"})
    assert "cannot be reached" in problem(api.post(f"{path}/climate/read"))["logger_url"]["message"]


@pytest.mark.parametrize(
    "url",
    ["socket://8.8.8.8:80", "rfc2217://x", "/etc/passwd", "loop://", "spy:///dev/ttyS0", "socket://[::"],
)
def test_only_the_workshops_own_network_is_reached(api, url):
    assert not within_reach(url)
    assert problem(api.patch("/shop/instruments", {"scale_url": url}))["scale_url"]["code"] == "not-in-reach"


@pytest.mark.parametrize(
    "url", ["/dev/ttyUSB0", "COM3", "socket://127.0.0.1:4001", "http://192.168.0.20/air.json"]
)
def test_ports_and_the_own_network_are(url):
    assert within_reach(url)


def test_a_meters_sheet_is_checked(api):
    assert problem(api.patch("/shop/instruments", {"meter_corrections": {"balsam": 1.0}}))["species"]
    assert problem(api.patch("/shop/instruments", {"meter_corrections": {"pear": 40.0}}))["adds_pct"]


def test_all_loggers_are_read_at_one_word(api, stands, workshop, capsys):
    from django.core.management import call_command

    place = workshop.places.first()
    body = {"name": place.name, "air_c": 18, "rh_pct": 50, "logger_url": stands["logger"].url}
    api.put(f"/shop/places/{place.id}", body)
    lost = api.post("/shop/places", {"name": "Cellar", "air_c": 12, "rh_pct": 65}).json()["id"]
    api.put(f"/shop/places/{lost}", {**body, "name": "Cellar", "logger_url": "http://127.0.0.1:9/air.json"})
    call_command("read_loggers")
    said = capsys.readouterr()
    assert "81 new readings" in said.out and "cannot be reached" in said.err
