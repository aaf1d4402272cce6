"""A weight that was acknowledged is on disk: the server is killed hard, and it is still there."""

from uuid import uuid4

import pytest

from tests.server_process import Server


@pytest.fixture
def server(tmp_path):
    made = Server(tmp_path)
    made.manage("migrate", "-v0")
    made.manage("create_account", "ada", "--password", "canal-barge-77")
    made.start()
    yield made
    if made.process.poll() is None:
        made.kill()


def test_an_acknowledged_weight_survives_a_hard_kill(server):
    server.call("GET", "/admin/login/")  # any page that hands out the token
    server.call("POST", "/api/account/sign-in", {"username": "ada", "password": "canal-barge-77"})
    tag = server.call("POST", "/api/pieces", {"diameter_mm": 290, "height_mm": 115})["tag"]
    server.call(
        "POST", f"/api/bench/{tag}/done/rough", {"notes": {"outside_diameter_mm": 280, "wall_mm": 28}}
    )
    key = str(uuid4())
    kept = server.call("POST", "/api/drying/weigh-ins", {"key": key, "tag": tag, "mass_g": 2390})
    server.kill()
    server.start()
    found = server.call("GET", f"/api/drying/{tag}")["weigh_ins"]
    assert [(w["id"], w["mass_g"]) for w in found] == [(kept["id"], 2390)]
    again = server.call("POST", "/api/drying/weigh-ins", {"key": key, "tag": tag, "mass_g": 2390})
    assert again["id"] == kept["id"]
