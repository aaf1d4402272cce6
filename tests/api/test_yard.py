"""The yard over HTTP: logs, pictures, layouts, cutting, outlines, resin."""

import io
from datetime import date, timedelta

import ezdxf
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from server.apps.yard.models import Blank, LogPhoto
from server.apps.yard.photos import path_of
from tests.conftest import problem

LOG = {
    "species": "ash-european", "length_mm": 1200, "large_wide_mm": 380, "large_tall_mm": 360, "small_wide_mm": 340,
    "small_tall_mm": 330, "bark_mm": 12, "pith_offset_mm": 18, "pith_angle_deg": 40,
    "felled_on": (date.today() - timedelta(days=30)).isoformat(),
}  # fmt: skip


@pytest.fixture
def log(api):
    answer = api.post("/yard/logs", LOG)
    assert answer.status_code == 201, answer.content
    return answer.json()


def layout_of(api, log, key="half", **body):
    found = api.post(f"/yard/logs/{log['id']}/layouts", body)
    assert found.status_code == 200, found.content
    return next(lay for lay in found.json()["layouts"] if lay["key"] == key)


def spots(layout, *ids):
    return [b["spot"] for b in layout["blanks"] if not ids or b["spot"]["id"] in ids]


def test_a_log_is_known_more_and_more(api, log):
    changed = api.patch(
        f"/yard/logs/{log['id']}", {"rot": True, "sealed_on": LOG["felled_on"], "ends_sealed": True}
    )
    assert changed.json()["rot"] and changed.json()["length_mm"] == 1200
    assert changed.json()["keeping"]["used_pct"] != log["keeping"]["used_pct"]
    bad = api.patch(f"/yard/logs/{log['id']}", {"large_wide_mm": 9e6})
    assert problem(bad)["large_wide_mm"]
    assert problem(api.patch(f"/yard/logs/{log['id']}", {"pith_offset_mm": 300}))["pith_offset_mm"]
    assert problem(api.patch(f"/yard/logs/{log['id']}", {"tried": {"pores": "purple"}}))["pores"]
    gone = api.patch(f"/yard/logs/{log['id']}", {"gone_on": date.today().isoformat()})
    assert gone.json()["gone_on"]
    assert api.patch(f"/yard/logs/{log['id']}", {"gone_on": None}).json()["gone_on"] is None


def test_an_unmeasured_log_says_what_to_measure(api):
    bare = api.post("/yard/logs", {"species": "unknown-hardwood", "tried": {"pores": "ring"}}).json()
    assert not bare["measured"] and bare["tried"] == {"pores": "ring"}
    answer = api.post(f"/yard/logs/{bare['id']}/layouts", {})
    assert "Measure" in problem(answer)["length_mm"]["message"]


def test_layouts_are_told_side_by_side_with_what_is_wanted_first(api, log):
    body = {"wants": [{"diameter_mm": 250, "count": 2}], "saw": {"kerf_mm": 9}}
    found = api.post(f"/yard/logs/{log['id']}/layouts", body).json()
    assert found["layouts"][0]["key"] == "wanted" and len(found["layouts"]) >= 5
    assert all(b["good_for"] and b["rim"] for lay in found["layouts"] for b in lay["blanks"])
    assert problem(api.post(f"/yard/logs/{log['id']}/layouts", {"saw": {"kerf_mm": 90}}))["kerf_mm"]


def test_a_dragged_blank_changes_size_and_clashes_are_named(api, log):
    layout = layout_of(api, log)
    first = spots(layout)[0]
    moved = {**first, "face_mm": first["face_mm"] + 40, "shift_mm": None}
    trial = api.post(f"/yard/logs/{log['id']}/trial", {"spots": [moved]}).json()
    assert trial["blanks"][0]["height_mm"] < layout["blanks"][0]["height_mm"]
    assert trial["blanks"][0]["pith_mm"] == pytest.approx(layout["blanks"][0]["pith_mm"] + 40, abs=0.2)
    twice = api.post(f"/yard/logs/{log['id']}/trial", {"spots": [first, {**first, "id": "x"}]}).json()
    assert twice["clashes"] == [["1", "x"]]


def test_ones_own_layout_is_kept_and_drawn_again(api, log):
    mine = spots(layout_of(api, log), "1", "2")
    kept = api.put(f"/yard/logs/{log['id']}/plan", {"spots": mine, "wants": [{"diameter_mm": 200}]})
    assert len(kept.json()["blanks"]) == 2
    assert layout_of(api, log, "own")["blanks"][0]["spot"]["id"] == "1"
    again = api.get(f"/yard/logs/{log['id']}").json()
    assert again["has_plan"] and again["plan_wants"][0]["diameter_mm"] == 200


def test_cut_blanks_become_pieces_and_the_log_shows_what_is_left(api, log):
    layout = layout_of(api, log)
    cut = api.post("/pieces/cut", {"log_id": log["id"], "spots": spots(layout, "1", "2")})
    assert cut.status_code == 201, cut.content
    tags = cut.json()["tags"]
    piece = api.get(f"/pieces/{tags[0]}").json()
    assert piece["diameter_mm"] == layout["blanks"][0]["diameter_mm"] and piece["pith_mm"] is not None
    left = api.get(f"/yard/logs/{log['id']}").json()
    assert left["left_mm"] < log["left_mm"] - 200
    assert [b["pieces"] for b in left["blanks"]] == [[tags[0]], [tags[1]]]
    kin = api.get(f"/pieces/{tags[0]}/lineage").json()
    assert kin["log_number"] == log["number"] and kin["blank_number"] == 1
    assert [k["tag"] for k in kin["same_log"]] == [tags[1]]
    # what is cut is not cut again, and new layouts keep to what is left
    again = api.post("/pieces/cut", {"log_id": log["id"], "spots": spots(layout, "1")})
    assert problem(again)["spots"]["code"] == "cut-already"
    end = max(b["start_mm"] + b["length_mm"] for b in left["blanks"])
    assert all(s["start_mm"] >= end for s in spots(layout_of(api, log)))


def test_clashing_spots_are_not_cut(api, log):
    first = spots(layout_of(api, log))[0]
    answer = api.post("/pieces/cut", {"log_id": log["id"], "spots": [first, {**first, "id": "x"}]})
    assert problem(answer)["spots"]["code"] == "clash"
    assert Blank.objects.count() == 0


def test_a_slip_with_the_saw_is_taken_back_until_work_begins(api, log):
    layout = layout_of(api, log)
    tags = api.post("/pieces/cut", {"log_id": log["id"], "spots": spots(layout, "1", "2")}).json()["tags"]
    assert api.delete(f"/pieces/cut/{log['id']}/2").status_code == 204
    assert api.get(f"/pieces/{tags[1]}").status_code == 404
    api.rough(tags[0], days_ago=0.0, outside_diameter_mm=270, wall_mm=27, height_mm=100, bottom_mm=30)
    assert problem(api.delete(f"/pieces/cut/{log['id']}/1"))["number"]["code"] == "already-begun"


def test_the_cutting_sheet_marks_every_blank(api, log):
    layout = layout_of(api, log)
    sheet = api.post(f"/yard/logs/{log['id']}/sheet", {"spots": spots(layout)}).json()
    circles = [m for m in sheet["marks"] if m["text"]["code"] == "circle"]
    assert len(circles) == len(layout["blanks"])


def test_signs_narrow_the_wood(api):
    signs = api.get("/yard/signs").json()["signs"]
    assert {"pores", "smell", "glow"} <= {s["key"] for s in signs}
    found = api.post("/yard/which-wood", {"tried": {"heart": "dark", "smell": "sharp"}}).json()
    assert "walnut" in found["likely"][0]["common"].lower()
    assert problem(api.post("/yard/which-wood", {"tried": {"smell": "loud"}}))["smell"]


# -- pictures ------------------------------------------------------------------------------


def picture(size=(2400, 1800), kind="JPEG", place=True):
    out = io.BytesIO()
    image = Image.new("RGB", size, (120, 80, 40))
    exif = Image.Exif()
    exif[0x010E] = "secret place"
    exif[0x0112] = 6  # lies on its side
    image.save(out, kind, exif=exif) if place else image.save(out, kind)
    return out.getvalue()


def send(api, log, data):
    file = SimpleUploadedFile("p.jpg", data, content_type="image/jpeg")
    return api.client.post(f"/api/yard/logs/{log['id']}/photos", {"photo": file})


def test_a_picture_is_made_small_upright_and_forgets_its_place(api, log, other):
    answer = send(api, log, picture())
    assert answer.status_code == 201, answer.content
    photo = answer.json()["photos"][0]
    assert (photo["width"], photo["height"]) == (1200, 1600)  # turned upright, at most 1600
    data = b"".join(api.client.get(photo["url"]).streaming_content)
    assert b"secret place" not in data
    with Image.open(io.BytesIO(data)) as kept:
        assert not kept.getexif() and kept.format == "JPEG"
    assert other.client.get(photo["url"]).status_code == 404
    path = path_of(LogPhoto.objects.get())
    assert path.exists()
    assert api.delete(photo["url"].removeprefix("/api")).json()["photos"] == []


def test_what_is_no_picture_or_too_large_is_refused_in_words(api, log):
    assert "JPEG" in problem(send(api, log, b"not a picture"))["photo"]["message"]
    assert problem(send(api, log, b"\xff\xd8" + bytes(12_000_001)))["photo"]["code"] == "photo-too-large"
    assert api.get(f"/yard/logs/{log['id']}").json()["photos"] == []


# -- outlines and resin ----------------------------------------------------------------------


def test_an_outline_from_points_a_template_or_a_file(api):
    heart = api.post("/yard/outline", {"template": "heart", "species": "pear"}).json()
    assert heart["balance"]["mounts"][1]["offset_mm"] > 3
    path = {"name": "x.svg", "text": "M0,0 L200,0 L200,100 L0,100 Z"}
    points = api.post("/yard/outline/read", path).json()["points"]
    assert len(points) == 4
    own = api.post("/yard/outline", {"points": points, "own": [10, -50]}).json()
    assert own["balance"]["mounts"][2]["offset_mm"] == pytest.approx(90.0, abs=0.1)
    svg = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="50mm" viewBox="0 0 100 50"><rect width="100" height="50"/></svg>'
    box = api.post("/yard/outline/read", {"name": "y.svg", "text": svg}).json()["points"]
    assert max(x for x, _ in box) - min(x for x, _ in box) == pytest.approx(100.0, abs=0.5)


def test_a_dxf_drawing_keeps_its_units(api):
    drawing = ezdxf.new(units=1)  # inches
    drawing.modelspace().add_lwpolyline([(0, 0), (8, 0), (8, 6), (0, 6)], close=True)
    text = io.StringIO()
    drawing.write(text)
    points = api.post("/yard/outline/read", {"name": "bowl.DXF", "text": text.getvalue()}).json()["points"]
    assert max(x for x, _ in points) == pytest.approx(203.2)


@pytest.mark.parametrize(
    ("name", "text"), [("a.svg", "M bananas"), ("a.dxf", "0\nSECTION"), ("a.svg", "<svg/>"), ("a.svg", "")]
)
def test_files_that_hold_no_outline_are_refused(api, name, text):
    assert "file" in problem(api.post("/yard/outline/read", {"name": name, "text": text}))


def test_the_template_prints_at_full_size_with_a_bar_to_check(api):
    answer = api.post(
        "/yard/outline/template", {"template": "hexagon", "width_mm": 200, "title": "Dish <1> & co"}
    )
    text = answer.content.decode()
    assert answer.headers["Content-Type"] == "image/svg+xml"
    assert 'width="224.00mm"' in text and "h100" in text and "Dish &lt;1&gt; &amp; co" in text


def test_resin_by_void_or_by_what_was_filled(api):
    box = api.post("/yard/resin", {"kind": "box", "length_mm": 100, "width_mm": 20, "depth_mm": 40}).json()
    assert box["void_ml"] == 80.0 and len(box["pours"]) == 2
    filled = api.post("/yard/resin", {"kind": "measured", "filled_ml": 80}).json()
    assert filled["mix_ml"] == box["mix_ml"] and len(filled["pours"]) == 1
    assert problem(api.post("/yard/resin", {"kind": "box", "length_mm": 100}))["width_mm"]


def test_a_tags_code_is_a_picture_of_its_own(api):
    tag = api.begin(tag="B-7")
    text = api.get(f"/pieces/{tag}/tag.svg").content.decode()
    assert text.startswith("<svg") and 'xmlns="http://www.w3.org/2000/svg"' in text


def test_a_thin_branch_is_better_bored_than_split(api):
    branch = {**LOG, "length_mm": 700, "large_wide_mm": 118, "large_tall_mm": 116, "small_wide_mm": 104,
              "small_tall_mm": 102, "bark_mm": 3, "pith_offset_mm": 4}  # fmt: skip
    made = api.post("/yard/logs", branch).json()
    layouts = api.post(f"/yard/logs/{made['id']}/layouts", {}).json()["layouts"]
    assert layouts[0]["key"] == "bored-branch"
    tags = api.post("/pieces/cut", {"log_id": made["id"], "spots": spots(layouts[0], "1")}).json()["tags"]
    assert api.get(f"/pieces/{tags[0]}").json()["way"] == "bored-branch"
