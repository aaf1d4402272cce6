"""What happens when things happen at once, or are looked at from behind."""

import threading
from uuid import uuid4

import pytest
from django.contrib.auth import get_user_model
from django.db import connection
from django.test import Client
from django.utils import timezone

from server.apps.drying.models import WeighIn
from server.apps.drying.queries import open_run
from server.apps.drying.services import weigh
from server.apps.pieces.models import Event, Piece, Stage
from server.apps.pieces.services import begin_piece, give_coat, keep_notes
from tests.conftest import api_of, make_workshop

ASH = {"species": "ash-european", "form": "side-grain-bowl", "state": "green", "diameter_mm": 290.0,
       "height_mm": 115.0, "finish_diameter_mm": 260.0, "finish_wall_mm": 6.0}  # fmt: skip


def at_once(*calls):
    """Run each call in a thread of its own, started together; return results and errors."""
    gate, results, errors = threading.Barrier(len(calls)), [], []

    def run(call):
        try:
            gate.wait()
            results.append(call())
        except Exception as error:
            errors.append(error)
        finally:
            connection.close()

    threads = [threading.Thread(target=run, args=(call,)) for call in calls]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return results, errors


@pytest.fixture
def yard(transactional_db):
    return make_workshop("Busy yard", "dora")


def begin(yard, **change):
    return begin_piece(yard, now=timezone.now(), by=None, tag=change.pop("tag", None), **{**ASH, **change})


def test_the_same_weight_from_six_threads_is_stored_once(yard):
    api = api_of(yard)
    tag = api.begin()
    api.rough(tag, mass_g=2450)
    key = uuid4()

    def send():
        return weigh(
            yard, open_run(yard, tag), key=key, mass_g=2390.0, at=timezone.now(), now=timezone.now()
        ).id

    results, errors = at_once(*[send] * 6)
    assert errors == [] and len(set(results)) == 1 and WeighIn.objects.filter(key=key).count() == 1


def test_notes_kept_at_once_all_stay(yard):
    piece = begin(yard)
    fields = {
        "outside_diameter_mm": 280.0,
        "wall_mm": 28.0,
        "height_mm": 105.0,
        "bottom_mm": 34.0,
        "mass_g": 2450.0,
        "speed_rpm": 600.0,
    }

    def note(name):
        stage = Stage.objects.select_related("piece__workshop").get(piece=piece, kind="rough")
        return lambda: keep_notes(stage, {name: fields[name]})

    _, errors = at_once(*[note(name) for name in fields])
    assert errors == [] and Stage.objects.get(piece=piece, kind="rough").notes == fields


def test_pieces_begun_at_once_never_share_a_tag(yard):
    results, errors = at_once(*[lambda: begin(yard).tag] * 5)
    assert len(set(results)) == len(results) and len(results) + len(errors) == 5
    assert Piece.objects.filter(workshop=yard).count() == len(results)


def test_two_people_giving_the_next_coat_give_two_coats_in_order(yard):
    piece = begin(yard, state="dry", way="from-dry")
    stage = Stage.objects.select_related("piece__workshop").get(piece=piece, kind="coat")
    now = timezone.now()
    _, errors = at_once(*[lambda: give_coat(stage, at=now, now=now, by=None)] * 2)
    assert [c.number for c in stage.coats.all()] == list(range(1, 3 - len(errors)))


def test_everything_that_happened_is_written_down_and_never_changed(yard):
    api = api_of(yard)
    tag = api.begin()
    api.patch(f"/pieces/{tag}", {"name": "Gate"})
    api.rough(tag)
    api.post(f"/bench/{tag}/take-back")
    assert list(Event.objects.filter(piece__tag=tag).order_by("id").values_list("verb", flat=True)) == [
        "begun",
        "changed",
        "stage-done",
        "taken-back",
    ]
    changed = Event.objects.get(piece__tag=tag, verb="changed")
    assert (
        changed.data == {"before": {"name": ""}, "after": {"name": "Gate"}} and changed.by.username == "dora"
    )


@pytest.mark.parametrize(
    "table",
    ["pieces/piece", "pieces/stage", "drying/weighin", "drying/dryingrun", "shop/workshop", "yard/log"],
)
def test_the_window_onto_the_tables_opens_for_its_keeper_only(yard, table):
    api_of(yard).begin()
    keeper = get_user_model().objects.create_superuser("keeper", password="canal-barge-77")
    client = Client()
    assert client.get(f"/admin/{table}/").status_code == 302
    client.force_login(keeper)
    assert client.get(f"/admin/{table}/").status_code in (200, 404)
    assert client.get("/admin/").status_code == 200


def test_rows_say_what_they_are(yard):
    piece = begin(yard, tag="B-7")
    assert (
        str(piece) == "piece B-7"
        and str(piece.stages.first()) == "rough of piece B-7"
        and str(yard) == "Busy yard"
    )
