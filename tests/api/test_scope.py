"""Nothing of one workshop is seen or changed from another, and nothing by strangers."""

from uuid import uuid4

import pytest
from django.test import Client

from server.apps.drying.models import WeighIn
from tests.conftest import Api, problem


@pytest.fixture
def theirs(other):
    """Ids of another workshop's things."""
    tag = other.begin(tag="T-1")
    other.rough(tag, mass_g=2450)
    shop = other.get("/shop").json()
    return {
        "tag": tag, "weigh": WeighIn.objects.get().id, "place": shop["places"][0]["id"], "lathe": shop["lathes"][0]["id"],
        "jaws": shop["jaws"][0]["id"], "plate": shop["plates"][0]["id"],
        "log": other.post("/yard/logs", {"species": "pear", "length_mm": 900, "diameter_mm": 300}).json()["id"],
        "tool": other.post("/shop/tools", TOOL).json()["id"],
        "sketch": other.post("/lathe/sketches", {"name": "theirs", "design": FORM}).json()["id"],
        "reading": _reading(other, tag),
        "go": other.post(f"/drying/{tag}/goes", GO).json()["goes"][0]["id"],
        "step": other.post(f"/drying/{tag}/what-if", {"way": "bag"}).json()["steps"][-1]["id"],
    }  # fmt: skip


def _reading(other, tag):
    """A calliper reading on their piece."""
    assert other.put(f"/lathe/{tag}/design", FORM).status_code == 200
    return other.post(f"/lathe/{tag}/callipers", {"z_mm": 50, "wall_mm": 7}).json()["callipers"][0]["id"]


TOOL = {"kind": "collet", "name": "theirs", "sizes": {"bore_mm": 38, "depth_mm": 25}}
FORM = {"outer": [{"r_mm": 40, "z_mm": 0}, {"r_mm": 90, "z_mm": 40}, {"r_mm": 110, "z_mm": 90}]}
GO = {"key": str(uuid4()), "power_w": 900, "seconds": 60, "before_g": 2300}
SPOT = {"id": "1", "cut": "half", "start_mm": 30, "length_mm": 250, "face_mm": 20}
PART = {"diameter_mm": 120, "height_mm": 60, "wall_mm": 12, "bottom_mm": 15}
LATHE = {"name": "x", "swing_mm": 400, "min_rpm": 50, "max_rpm": 2000}
JAWS = {
    "name": "x",
    "tenon_low_mm": 40,
    "tenon_high_mm": 50,
    "recess_low_mm": 45,
    "recess_high_mm": 60,
    "depth_mm": 15,
}
PLATE = {"name": "x", "kind": "faceplate", "low_mm": 80, "high_mm": 300}
ROUTES = [
    ("get", "/pieces/{tag}", None), ("patch", "/pieces/{tag}", {"name": "mine"}), ("get", "/pieces/{tag}/events", None),
    ("post", "/pieces/{tag}/coats", {}), ("delete", "/pieces/{tag}/coats/last", None),
    ("get", "/bench/{tag}/card/rough", None), ("post", "/bench/{tag}/card/rough/try", {}),
    ("put", "/bench/{tag}/card/rough/notes", {}), ("post", "/bench/{tag}/done/dry", {}),
    ("post", "/bench/{tag}/take-back", {}), ("get", "/bench/{tag}/record", None),
    ("get", "/drying/{tag}", None), ("get", "/drying/expected?tag={tag}", None),
    ("post", "/drying/{tag}/stays", {"place_id": 1}),
    ("post", "/drying/weigh-ins", {"key": str(uuid4()), "tag": "T-1", "mass_g": 2300}),
    ("post", "/drying/weigh-ins/{weigh}/accept", {}),
    ("post", "/drying/weigh-ins/{weigh}/correct", {"key": str(uuid4()), "mass_g": 2300}),
    ("put", "/shop/places/{place}", {"name": "x", "air_c": 18, "rh_pct": 50}), ("put", "/shop/lathes/{lathe}", LATHE),
    ("put", "/shop/jaws/{jaws}", JAWS), ("delete", "/shop/jaws/{jaws}", None),
    ("put", "/shop/plates/{plate}", PLATE), ("delete", "/shop/plates/{plate}", None),
    ("get", "/yard/logs/{log}", None), ("patch", "/yard/logs/{log}", {"note": "mine"}),
    ("post", "/yard/logs/{log}/layouts", {}), ("post", "/yard/logs/{log}/trial", {"spots": [SPOT]}),
    ("put", "/yard/logs/{log}/plan", {"spots": [SPOT]}), ("post", "/yard/logs/{log}/sheet", {"spots": [SPOT]}),
    ("post", "/pieces/cut", {"log_id": 0, "spots": [SPOT]}), ("delete", "/pieces/cut/{log}/1", None),
    ("get", "/pieces/{tag}/lineage", None), ("get", "/pieces/{tag}/tag.svg", None),
    ("post", "/drying/{tag}/meter", {"key": str(uuid4()), "shown_pct": 20}), ("get", "/drying/{tag}/microwave", None),
    ("post", "/drying/{tag}/goes", {**GO, "key": str(uuid4())}), ("post", "/drying/{tag}/goes/{go}", {"after_g": 2290}),
    ("post", "/drying/{tag}/turned", {"wall_mm": 20, "bottom_mm": 24, "after_g": 1700}),
    ("patch", "/drying/{tag}/sizes", {"wall_mm": 20}), ("post", "/drying/{tag}/split", {"parts": [PART, PART]}),
    ("get", "/drying/{tag}/what-if", None), ("post", "/drying/{tag}/what-if", {"way": "bag"}),
    ("post", "/drying/{tag}/pair", {}), ("post", "/drying/steps/{step}/done", {}),
    ("get", "/drying/box?target_mc_pct=8&box_c=35&place_id={place}", None),
    ("get", "/shop/places/{place}/climate", None), ("get", "/shop/places/{place}/climate.csv", None),
    ("post", "/shop/places/{place}/climate/read", {}),
    ("put", "/shop/tools/{tool}", TOOL), ("delete", "/shop/tools/{tool}", None),
    ("get", "/lathe/{tag}/design", None), ("put", "/lathe/{tag}/design", FORM), ("delete", "/lathe/{tag}/design", None),
    ("post", "/lathe/{tag}/callipers", {"z_mm": 50, "wall_mm": 6}), ("delete", "/lathe/{tag}/callipers/{reading}", None),
    ("post", "/lathe/{tag}/cores", {"cuts": []}), ("delete", "/lathe/{tag}/cores", None),
    ("delete", "/lathe/sketches/{sketch}", None), ("post", "/lathe/shape", {"tag": "T-1", "design": FORM}),
    ("post", "/lathe/warp", {"tag": "T-1", "design": FORM}), ("post", "/lathe/mesh", {"tag": "T-1", "design": FORM}),
    ("post", "/lathe/nest", {"tag": "T-1"}), ("post", "/lathe/nest/search", {"tag": "T-1"}),
    ("post", "/lathe/speeds", {"tag": "T-1", "stage": "rough", "swing_mm": 200, "speed_rpm": 700}),
    ("post", "/shop/places/{place}/climate/table", {"text": "at,temp,rh\n2026-01-01,18,50", "keep": True}),
]  # fmt: skip


@pytest.mark.parametrize(("method", "path", "body"), ROUTES, ids=[f"{m} {p}" for m, p, _ in ROUTES])
def test_another_workshops_things_are_not_found(api, other, theirs, method, path, body):
    before = other.get(f"/bench/{theirs['tag']}/record").json()
    if body and "log_id" in body:
        body = {**body, "log_id": theirs["log"]}
    answer = api._send(method, path.format(**theirs), body)
    assert "nothing here" in problem(answer, 404)[""]["message"]
    assert other.get(f"/bench/{theirs['tag']}/record").json() == before


def test_lists_hold_only_ones_own(api, theirs):
    for path in ("/pieces", "/drying", "/yard/logs", "/lathe/sketches", "/lathe/speeds"):
        assert api.get(path).json() == []
    assert api.get("/today").json() == {"rows": [], "strip": []}


def test_foreign_ids_inside_a_body_are_not_found_either(api, theirs):
    assert problem(api.post("/pieces", {"diameter_mm": 200, "height_mm": 80, "log_id": theirs["log"]}), 404)
    mine = api.begin()
    api.rough(mine)
    assert problem(api.post(f"/drying/{mine}/stays", {"place_id": theirs["place"]}), 404)
    asked = api.weigh(mine, 5.0, days_ago=3).json()
    stolen = {"key": str(uuid4()), "mass_g": 2000, "tag": theirs["tag"]}
    assert problem(api.post(f"/drying/weigh-ins/{asked['id']}/correct", stolen), 404)


OPEN = {"/account/me", "/account/sign-in", "/demo/enter"}


def test_every_other_route_wants_a_sign_in(db):
    from server.config.mount import api as mounted

    stranger = Api(Client())
    closed = 0
    for path, methods in mounted.get_openapi_schema()["paths"].items():
        short = path.removeprefix("/api")
        for method in methods:
            if short in OPEN and (short, method) != ("/account/me", "patch"):
                continue
            filled = short.replace("{tag}", "1").replace("{kind}", "rough")
            for name in (
                "weigh_in_id",
                "place_id",
                "lathe_id",
                "jaws_id",
                "plate_id",
                "tool_id",
                "sketch_id",
            ):
                filled = filled.replace("{" + name + "}", "1")
            answer = stranger._send(method, filled, None if method in ("get", "delete") else {})
            assert "sign in" in problem(answer, 401)[""]["message"], (method, path)
            closed += 1
    assert closed > 30


def test_somebody_without_a_workshop_finds_nothing(db, django_user_model):
    client = Client()
    client.force_login(django_user_model.objects.create_user("drifter"))
    assert problem(Api(client).get("/today"), 404)
