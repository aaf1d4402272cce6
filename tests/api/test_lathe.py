"""The lathe side over HTTP: shapes, files, cores, reach, callipers, speeds."""

import io
import json
import re

import ezdxf
import numpy as np
import pytest
import trimesh

from kilncore.equipment import KINDS
from kilncore.solids.families import Sizes, family_handles
from server.apps.pieces.models import Piece


@pytest.fixture
def client(api):
    return api.client


def family(client, key="hemisphere", width=260.0, height=110.0, **more):
    body = {"family": key, "width_mm": width, "height_mm": height, **more}
    return client.post("/api/lathe/family", json.dumps(body), content_type="application/json").json()


def a_design(client, key="hemisphere", **more):
    sizes = {
        k: more.pop(k)
        for k in ("width", "height", "sliders", "foot_mm")
        if k in more and (k != "foot_mm" or "foot" not in more)
    }
    found = family(client, key, **sizes)
    return {"outer": found["outer"], "half_mm": found["half_mm"], **more}


def send(client, path, body, method="post", expect=200):
    answer = getattr(client, method)(f"/api/{path}", json.dumps(body), content_type="application/json")
    assert answer.status_code == expect, answer.content[:500]
    return answer.json() if "json" in answer["Content-Type"] else answer


def begin(client, **change):
    body = {
        "species": "ash-european", "state": "green", "diameter_mm": 300, "height_mm": 130, "pith_mm": 12, **change
    }  # fmt: skip
    return send(client, "pieces", body, expect=201)["tag"]


def tool(client, kind, name, expect=201, **sizes):
    usual = {m.name: m.usual for m in KINDS[kind].measures}
    return send(
        client, "shop/tools", {"kind": kind, "name": name, "sizes": {**usual, **sizes}}, expect=expect
    )


def code_of(problem):
    return problem["errors"][0]["code"], problem["errors"][0]["field"]


def test_every_family_can_be_judged_with_its_usual_sliders(client):
    words = client.get("/api/lathe/words").json()
    assert len(words["families"]) >= 8 and len(words["walls"]) == 4
    for f in words["families"]:
        height = 220.0 if f["closed"] else 100.0
        found = send(client, "lathe/shape", {"design": a_design(client, f["key"], height=height)})
        assert len(found["walls_mm"]) == len(found["inner"]) and found["thin"][2] > 4.0
        assert {"thin_mm", "capacity_ml", "mass_now_g", "tips_deg"} <= {x["name"] for x in found["figures"]}


def test_a_piece_s_form_is_judged_with_its_wood_and_blank_and_its_cards_follow(client):
    tag = begin(client)
    design = a_design(client, width=250.0, height=100.0, foot="tenon", foot_mm=70, foot_length_mm=6)
    found = send(client, "lathe/shape", {"design": design, "tag": tag})
    assert found["blank"]["radius_mm"] == 150 and found["largest"]["diameter_mm"] > 250
    assert found["marks"] == []
    kept = send(client, f"lathe/{tag}/design", design, method="put")
    assert kept["design"]["outer"][-1]["r_mm"] == 125.0 and kept["finish_diameter_mm"] == 250.0
    card = client.get(f"/api/bench/{tag}/card/turn").json()["card"]
    by = {f["name"]: f for f in card["figures"]}
    assert by["depth_hole_mm"]["value"] == pytest.approx(100 - 10 - 1, abs=0.3)
    assert card["directions"]["runs"] and card["inside"]["long_mm"] > card["inside"]["short_mm"]
    assert send(client, f"lathe/{tag}/design", {}, method="delete")["design"] is None


def test_a_small_drawn_foot_refuses_a_recess_on_the_card(client):
    tag = begin(client, state="dry")
    send(client, "shop/way", {"second_hold": "recess"}, method="patch")

    def recess():
        holds = client.get(f"/api/bench/{tag}/card/turn-dry").json()["card"]["holds"][1]["holds"]
        return next(h for h in holds if h["key"] == "recess")

    assert recess()["verdict"] == "best"
    send(
        client, f"lathe/{tag}/design", a_design(client, width=280.0, height=100.0, foot_mm=95.0), method="put"
    )
    assert recess()["verdict"] == "no" and recess()["why"][0]["code"] == "foot-thin"


def test_a_form_wider_than_its_blank_is_refused_at_the_curve(client):
    tag = begin(client)
    problem = send(client, f"lathe/{tag}/design", a_design(client, width=320.0), method="put", expect=422)
    assert code_of(problem) == ("wider-than-blank", "outer") and "300" in problem["errors"][0]["message"]


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"outer": [{"r_mm": 40, "z_mm": 0}]}, "too-few-handles"),
        ({"wall": "lumpy"}, "unknown"),
        ({"wall_mm": 400}, "out-of-range"),
        ({"bottom_mm": 109.8}, "bottom-thicker-than-height"),
        ({"foot": "tenon", "foot_mm": 4}, "out-of-range"),
        ({"outer": [{"r_mm": -4, "z_mm": 0}, {"r_mm": 40, "z_mm": 60}]}, "out-of-range"),
    ],
)
def test_forms_that_are_none_are_answered_in_words(client, change, code):
    problem = send(client, "lathe/shape", {"design": {**a_design(client), **change}}, expect=422)
    assert code_of(problem)[0] == code


def test_the_inside_becomes_handles_that_keep_the_wall(client):
    design = a_design(client)
    free = send(client, "lathe/free", design)
    assert len(free["inner"]) >= 5
    found = send(client, "lathe/shape", {"design": {**design, "inner": free["inner"]}})
    assert found["thin"][2] == pytest.approx(6.0, abs=1.0)


def test_traced_cards_come_as_points_svg_dxf_and_measures(client):
    curve = [[40 + 80 * k / 12, 100 * (k / 12) ** 2] for k in range(13)]
    points = send(client, "lathe/trace", {"kind": "points", "points": [[x + 10, y] for x, y in curve]})[
        "outer"
    ]
    assert points[0]["r_mm"] == 50.0 and points[-1]["r_mm"] == pytest.approx(130.0)
    path = "M" + " L".join(f"{x},{-y}" for x, y in [[0, 0], *curve])
    svg = send(client, "lathe/trace", {"kind": "svg", "text": path})["outer"]
    assert svg[-1]["z_mm"] == pytest.approx(100.0, abs=0.1) and svg[-1]["r_mm"] == pytest.approx(
        120.0, abs=0.1
    )
    drawing = ezdxf.new()
    drawing.header["$INSUNITS"] = 4
    drawing.modelspace().add_lwpolyline([(0, 0), *curve])
    text = io.StringIO()
    drawing.write(text)
    dxf = send(client, "lathe/trace", {"kind": "dxf", "text": text.getvalue()})["outer"]
    assert [round(h["r_mm"]) for h in dxf][-1] == 120
    rows = [
        {"z_mm": z, "diameter_mm": d, "wall_mm": w} for z, d, w in ((0, 100, 8), (30, 180, 7), (70, 220, 6))
    ]
    both = send(client, "lathe/trace", {"kind": "measures", "measures": rows, "bottom_mm": 9})
    assert both["outer"][-1]["r_mm"] == 110 and both["inner"][0]["z_mm"] == 9
    for bad in ({"kind": "svg", "text": "<svg>nothing"}, {"kind": "dxf", "text": "?"}, {"kind": "points"}):
        assert send(client, "lathe/trace", bad, expect=422)["errors"][0]["message"]


def test_the_depth_card_and_its_hole(client):
    found = send(client, "lathe/depth", {"design": a_design(client), "every_mm": 20})
    assert [r["depth_mm"] for r in found["rows"]] == [0, 20, 40, 60, 80, pytest.approx(100)]
    assert found["figures"][0]["value"] == pytest.approx(99.0, abs=0.1)
    problem = send(client, "lathe/depth", {"design": a_design(client), "set_mm": 3}, expect=422)
    assert code_of(problem) == ("calliper-too-narrow", "set_mm")


def test_templates_are_full_size_in_every_format(client):
    design = a_design(client, width=420.0, height=180.0)
    svg = send(client, "lathe/file", {"design": design, "kind": "svg", "title": "A & B <1>"}).content.decode()
    xs = [float(x) for x in re.findall(r"[ML](-?[\d.]+) ", svg.split('id="outside"')[1].split('"/>')[0])]
    assert max(xs) - min(xs) == pytest.approx(210.0, abs=0.02) and "A &amp; B &lt;1&gt;" in svg
    assert re.search(r'width="[\d.]+mm"', svg) and "h100" in svg
    text = send(client, "lathe/file", {"design": design, "kind": "dxf"}).content.decode()
    lines = {
        e.dxf.layer: e for e in ezdxf.read(io.StringIO(text)).modelspace() if e.dxftype() == "LWPOLYLINE"
    }
    assert max(p[0] for p in lines["OUTSIDE"].get_points()) == pytest.approx(210.0, abs=0.01)
    assert min(p[1] for p in lines["INSIDE"].get_points()) == pytest.approx(10.0, abs=0.01)
    for paper, width in (("A4", 595.2756), ("Letter", 612.0)):
        pdf = send(client, "lathe/file", {"design": design, "kind": "pdf", "paper": paper}).content
        assert pdf.startswith(b"%PDF") and f"{width:g}"[:5].encode() in pdf
        assert pdf.count(b"/Type /Page\n") == 2  # wider than one sheet


def test_meshes_are_watertight_and_hold_the_wood(client):
    design = a_design(client)
    wood = send(client, "lathe/shape", {"design": design})
    mass = next(f for f in wood["figures"] if f["name"] == "mass_now_g")
    volume = mass["why"]["params"]["wood_cm3"]
    stl = trimesh.load(
        io.BytesIO(send(client, "lathe/file", {"design": design, "kind": "stl"}).content), file_type="stl"
    )
    glb = trimesh.load(
        io.BytesIO(send(client, "lathe/file", {"design": design, "kind": "glb"}).content),
        file_type="glb",
        force="mesh",
    )
    assert stl.is_watertight and stl.volume / 1000 == pytest.approx(volume, rel=6e-3)
    assert stl.extents[0] == pytest.approx(260.0, abs=0.5) and stl.extents[2] == pytest.approx(110.0, abs=0.1)
    assert glb.extents[1] == pytest.approx(0.110, abs=1e-4)  # metres, upright
    assert glb.volume * 1e9 == pytest.approx(stl.volume, rel=1e-3)


def test_warp_compares_both_ways_up_and_hands_out_a_mesh(client):
    body = {"design": a_design(client), "species": "beech-european", "pith_mm": 20, "mc_pct": 8}
    found = send(client, "lathe/warp", body)
    assert found["dried"]["rise_mm"] > 0 > found["other"]["rise_mm"] and found["other_label"]
    assert {f["name"] for f in found["figures"]} == {"left_mm", "wall_left_mm", "rough_wall_mm"}
    mesh = send(client, "lathe/mesh", body)
    green, dried = (np.array(mesh[k]).reshape(-1, 3) for k in ("green", "dried"))
    assert green.shape == dried.shape and np.ptp(dried[:, 1]) < np.ptp(green[:, 1]) - 10
    assert max(mesh["triangles"]) == len(green) - 1
    end = send(client, "lathe/warp", {**body, "orientation": "end-grain", "pith_mm": 0})
    assert end["other"] is None and end["dried"]["cracks_mm"] > 0


def test_a_bowl_seats_in_a_shell(client):
    shell = a_design(client, width=260.0)
    small = a_design(client, width=200.0, height=80.0)
    found = send(client, "lathe/fit", {"shell": shell, "piece": small, "wanted_mm": 14})
    assert found["reached"] and found["least_mm"] > 2
    assert not send(client, "lathe/fit", {"shell": shell, "piece": a_design(client, width=240.0, height=108.0), "wanted_mm": 0})["reached"]  # fmt: skip


def nest_lines(client, body):
    answer = client.post("/api/lathe/nest/search", json.dumps(body), content_type="application/json")
    assert answer.status_code == 200, answer.content
    return [json.loads(line) for line in b"".join(answer.streaming_content).decode().splitlines()]


def test_the_nest_is_searched_with_progress_moved_by_hand_and_taken(client):
    tag = begin(client, diameter_mm=380, height_mm=165)
    assert code_of(send(client, "lathe/nest", {"tag": tag}, expect=422)) == ("no-knives", "knives")
    for name, radius in (("small", 95), ("middle", 130), ("large", 165)):
        tool(client, "coring-knife", name, radius_mm=radius, kerf_mm=7, reach_mm=1.72 * radius, clear_mm=18)
    wanted = {"tag": tag, "wall_mm": 24, "bottom_mm": 30}
    lines = nest_lines(client, wanted)
    assert lines[-1]["done"] == 1.0 and all(line["plan"] is None for line in lines[:-1])
    best = lines[-1]["plan"]["best"]
    assert len(best["cores"]) >= 2 and best["value"] >= lines[-1]["plan"]["largest-first"]["value"]
    cuts = [
        {"knife": c["cut"]["knife"]["key"], "gap_mm": c["cut"]["gap_mm"], "off_mm": c["cut"]["off_mm"]}
        for c in best["cores"]
    ]
    bad = [{**cuts[0], "gap_mm": 2}, *cuts[1:]]
    own = send(client, "lathe/nest", {**wanted, "cuts": bad})["nest"]
    assert any(c["refused"] for c in own["cores"])
    assert (
        send(client, f"lathe/{tag}/cores", {**wanted, "cuts": bad}, expect=422)["errors"][0]["field"]
        == "cuts"
    )
    made = send(client, f"lathe/{tag}/cores", {**wanted, "cuts": cuts}, expect=201)["tags"]
    kin = client.get(f"/api/pieces/{tag}/lineage").json()
    assert [p["tag"] for p in kin["parts"]] == sorted(made)
    core = client.get(f"/api/pieces/{made[0]}").json()
    assert (
        core["diameter_mm"] == pytest.approx(best["cores"][0]["diameter_mm"], abs=0.1)
        and core["stages"][0]["kind"] == "rough"
    )
    assert client.get(f"/api/pieces/{made[0]}/lineage").json()["ancestors"][0]["tag"] == tag
    assert send(client, f"lathe/{tag}/cores", {"cuts": [{"knife": "none", "gap_mm": 30}]}, expect=422)


def test_reach_asks_for_bars_and_then_says_what_each_does(client):
    body = {"design": a_design(client, "closed", width=180.0, height=200.0)}
    assert code_of(send(client, "lathe/reach", body, expect=422)) == ("no-bars", "bars")
    tool(client, "bar", "straight 16")
    found = send(client, "lathe/reach", body)
    assert found["bars"][0]["share_pct"] > 50 and found["missed"] and found["order"][0]["code"] == "bore"
    by = {f["name"]: f for f in found["bars"][0]["figures"]}
    assert by["handle_mm"]["value"] == pytest.approx(4 * by["overhang_mm"]["value"], abs=1)
    send(client, "shop/way", {"handle": "five"}, method="patch")
    again = {f["name"]: f for f in send(client, "lathe/reach", body)["bars"][0]["figures"]}
    assert again["handle_mm"]["value"] == pytest.approx(5 * again["overhang_mm"]["value"], abs=1)


def test_directions_and_chatter_are_answered(client):
    found = send(
        client,
        "lathe/directions",
        {"design": a_design(client), "grain": "side-grain", "inside": "centre-out"},
    )
    assert found["way"]["code"] == "centre-out" and len(found["against"]) == 72
    advice = send(client, "lathe/chatter", {"stage": "finish", "sign": "rim", "speed_rpm": 900})
    assert not advice["stop"] and advice["steps"][0]["code"] == "slower"
    assert (
        code_of(
            send(client, "lathe/chatter", {"stage": "finish", "sign": "loud", "speed_rpm": 900}, expect=422)
        )[1]
        == "sign"
    )


def test_callipers_are_kept_beside_the_plan_and_taken_back(client):
    tag = begin(client)
    assert (
        code_of(send(client, f"lathe/{tag}/callipers", {"z_mm": 60, "wall_mm": 6}, expect=422))[0]
        == "no-form"
    )
    design = a_design(client, width=250.0, height=100.0)
    send(client, f"lathe/{tag}/design", design, method="put")
    kept = send(client, f"lathe/{tag}/callipers", {"z_mm": 60, "wall_mm": 12.4}, expect=201)["callipers"]
    assert len(kept) == 1
    judged = send(client, "lathe/shape", {"design": design, "tag": tag})["readings"]
    assert judged[0]["words"]["code"] == "reading-double" and judged[0]["over_mm"] == pytest.approx(
        6.4, abs=0.2
    )
    assert code_of(send(client, f"lathe/{tag}/callipers", {"z_mm": 3, "wall_mm": 6}, expect=422)) == (
        "no-wall-there",
        "z_mm",
    )
    assert send(client, f"lathe/{tag}/callipers", {"z_mm": 60, "wall_mm": 0}, expect=422)
    assert send(client, f"lathe/{tag}/callipers/{kept[0]['id']}", {}, method="delete")["callipers"] == []


def test_sketches_are_kept_by_name_and_replaced(client):
    send(client, "lathe/sketches", {"name": "House bowl", "design": a_design(client)}, expect=201)
    send(
        client, "lathe/sketches", {"name": "House bowl", "design": a_design(client, width=200.0)}, expect=201
    )
    rows = client.get("/api/lathe/sketches").json()
    assert len(rows) == 1 and rows[0]["design"]["outer"][-1]["r_mm"] == 100
    client.delete(f"/api/lathe/sketches/{rows[0]['id']}")
    assert client.get("/api/lathe/sketches").json() == []


def test_speeds_used_come_back_for_like_work_only(client):
    tag = begin(client)
    for stage, swing, rpm, felt in (
        ("rough", 300, 520, "hums"),
        ("rough", 120, 1400, "calm"),
        ("finish", 290, 800, "calm"),
    ):
        send(
            client,
            "lathe/speeds",
            {"stage": stage, "swing_mm": swing, "speed_rpm": rpm, "felt": felt, "tag": tag},
            expect=201,
        )
    found = client.get("/api/lathe/speeds?stage=rough&swing_mm=280").json()
    assert [(s["speed_rpm"], s["felt"], s["tag"]) for s in found] == [(520, "hums", tag)]
    assert [s["speed_rpm"] for s in client.get(f"/api/bench/{tag}/card/rough").json()["speeds"]] == [520]
    assert (
        code_of(
            send(client, "lathe/speeds", {"stage": "fly", "swing_mm": 300, "speed_rpm": 500}, expect=422)
        )[1]
        == "stage"
    )
    assert (
        code_of(
            send(client, "lathe/speeds", {"stage": "rough", "swing_mm": 300, "speed_rpm": 50000}, expect=422)
        )[1]
        == "speed_rpm"
    )


def test_a_speed_noted_with_a_stage_is_remembered(client):
    tag = begin(client)
    notes = {"outside_diameter_mm": 290, "wall_mm": 29, "mass_g": 2900, "speed_rpm": 610}
    send(client, f"bench/{tag}/done/rough", {"notes": notes})
    assert client.get("/api/lathe/speeds?stage=rough").json()[0]["speed_rpm"] == 610


def test_a_counterweight_enters_the_reckoner(client):
    lathe = client.get("/api/shop").json()["lathes"][0]
    send(client, f"shop/lathes/{lathe['id']}", {**{k: lathe[k] for k in ("name", "swing_mm", "min_rpm", "max_rpm", "steps")}, "mass_kg": 150, "power_w": 1100}, method="put")  # fmt: skip
    body = {"swing_mm": 280, "stage": "rough", "mass_kg": 6, "weight_g": 400, "radius_mm": 130}
    found = send(client, "bench/reckon/speed", body)
    assert found["balance"]["offset_mm"] == pytest.approx(400 * 130 / 6000)
    assert {m["key"] for m in found["speed"]["limits"]} >= {"imbalance", "balance-grade"}
    assert found["surface"][0]["push_n"] > 0 and found["surface"][-1]["high_m_s"] == 0
    small = {"name": "Mini", "swing_mm": 320, "min_rpm": 200, "max_rpm": 3000, "steps": "250, 400, 900"}
    other = send(client, "shop/lathes", small, expect=201)
    on_small = send(client, "bench/reckon/speed", {**body, "lathe_id": other["id"]})
    assert (
        on_small["speed"]["high"] in (250, 400) and [row["name"] for row in on_small["lathes"]][-1] == "Mini"
    )
    assert client.post("/api/bench/reckon/speed", json.dumps({**body, "lathe_id": 987654}), content_type="application/json").status_code == 404  # fmt: skip
    problem = send(client, "bench/reckon/speed", {**body, "mass_kg": None}, expect=422)
    assert code_of(problem) == ("missing", "mass_kg")


@pytest.mark.parametrize("kind", list(KINDS))
def test_tools_of_every_kind_are_added_changed_and_taken_down(client, kind):
    made = tool(client, kind, "one")
    assert (
        tool(client, kind, "one", expect=422)["errors"][0]["message"] == "There is already one of that name."
    )
    first = KINDS[kind].measures[0]
    changed = {"kind": kind, "name": "two", "sizes": {**made["sizes"], first.name: first.high}}
    try_far = {**changed, "sizes": {**made["sizes"], first.name: first.high * 10}}
    assert code_of(send(client, f"shop/tools/{made['id']}", try_far, method="put", expect=422)) == (
        "out-of-range",
        first.name,
    )
    assert client.delete(f"/api/shop/tools/{made['id']}").status_code == 204
    assert client.get("/api/shop").json()["tools"] == []


def test_new_forms_take_their_route_and_a_square_needs_room_for_its_corners(client):
    for form, hold in (("platter", None), ("winged-bowl", "winged"), ("hollow-form", None)):
        tag = begin(
            client, form=form, state="dry", diameter_mm=200, height_mm=60 if form != "hollow-form" else 260
        )
        assert Piece.objects.get(tag=tag).form == form
        card = client.get(f"/api/bench/{tag}/card/turn-dry").json()["card"]
        assert card["holds"][0]["holds"][0]["verdict"] == "best" and (hold is None or card["figures"])
    body = {"form": "winged-bowl", "state": "dry", "diameter_mm": 390, "height_mm": 60}
    assert code_of(send(client, "pieces", body, expect=422)) == ("larger-than-swing", "diameter_mm")


def wild_design(chance):
    """Handles as a slip of the thumb leaves them: any order, crossing, doubled, off the axis."""

    def rows(n):
        return [
            {"r_mm": round(chance.uniform(0, 160), 1), "z_mm": round(chance.uniform(-20, 220), 1), "corner": chance.random() < 0.3}
            for _ in range(n)
        ]  # fmt: skip

    if chance.random() < 0.6:  # a form as it stands, with every point a little off
        drawn = family_handles("hemisphere", Sizes(240.0, float(chance.uniform(60, 200)), 90.0))
        shaken = [{"r_mm": max(h.r_mm + float(chance.normal(0, 8)), 0.0), "z_mm": h.z_mm + float(chance.normal(0, 4))} for h in drawn]  # fmt: skip
    else:
        shaken = rows(chance.integers(2, 9))
    return {
        "outer": shaken,
        "inner": rows(chance.integers(2, 7)) if chance.random() < 0.4 else [],
        "wall": str(chance.choice(["even", "tapered", "heavy", "pierced"])),
        "wall_mm": float(chance.uniform(0.8, 60)),
        "bottom_mm": float(chance.uniform(0.8, 60)),
        "half_mm": float(chance.uniform(10, 150)) if chance.random() < 0.2 else None,
        "foot": str(chance.choice(["none", "tenon", "recess"])),
        "foot_mm": float(chance.uniform(10, 120)),
        "foot_length_mm": float(chance.uniform(1, 20)),
    }


@pytest.mark.parametrize("seed", range(6))
def test_whatever_a_thumb_draws_is_judged_or_refused_in_words(client, seed):
    tool(client, "bar", "straight 16")
    tool(client, "coring-knife", "small", radius_mm=95, kerf_mm=7, reach_mm=160, clear_mm=18)
    chance = np.random.default_rng(seed)
    answered = 0
    for _ in range(12):
        design = wild_design(chance)
        stock = {
            "diameter_mm": 300,
            "height_mm": 200,
            "pith_mm": float(chance.uniform(-80, 120)),
            "log_radius_mm": 170,
        }
        asked = {
            "shape": {"design": design, "stock": stock}, "depth": {"design": design}, "reach": {"design": design},
            "warp": {"design": design, "pith_mm": 30}, "mesh": {"design": design}, "free": design,
            "directions": {"design": design}, "fit": {"shell": design, "piece": wild_design(chance)},
            "nest": {"design": design, "cuts": [{"knife": "small", "gap_mm": float(chance.uniform(-50, 120))}]},
            "file": {"design": design, "kind": str(chance.choice(["svg", "pdf", "dxf", "stl", "glb"]))},
        }  # fmt: skip
        for path, body in asked.items():
            answer = client.post(f"/api/lathe/{path}", json.dumps(body), content_type="application/json")
            assert answer.status_code in (200, 422), (path, body, answer.content[:300])
            if answer.status_code == 422:
                assert all(e["message"] and "{" not in e["message"] for e in answer.json()["errors"])
            else:
                answered += 1
                assert b"NaN" not in answer.content and b"Infinity" not in answer.content, (path, body)
    assert answered > 5
