"""The demo yard is whole, dated from now, and asks for what the trade would."""

from collections import Counter
from datetime import timedelta

import pytest
from django.core.management import call_command
from django.utils import timezone

from server.apps.demo.scenario import PIECES
from server.apps.demo.services import build_demo, demo_workshop, remove_demo
from server.apps.drying.models import WeighIn
from server.apps.pieces.models import Piece
from server.apps.yard.models import Log
from tests.conftest import api_of


@pytest.fixture(scope="module")
def yard(django_db_setup, django_db_blocker):
    with django_db_blocker.unblock():
        made = build_demo(now=timezone.now())
        yield made
        remove_demo()


@pytest.fixture
def today(yard, db):
    return api_of(yard).get("/today").json()


def test_there_are_about_seventeen_pieces_seven_logs_and_the_yards_woods(yard, db):
    assert 15 <= yard.pieces.count() <= 20 and yard.logs.count() == 7
    woods = set(yard.pieces.values_list("species", flat=True)) | set(
        yard.logs.values_list("species", flat=True)
    )
    assert {
        "walnut-european",
        "ash-european",
        "plane-london",
        "beech-european",
        "hornbeam",
        "pear",
        "elm-wych",
        "chestnut-sweet",
    } <= woods
    assert len(set(yard.pieces.values_list("stages__kind", flat=True))) >= 8


def test_today_asks_for_all_it_should(today):
    codes = Counter(row["why"]["code"] for row in today["rows"])
    assert codes["drying-fast"] >= 1 and codes["ready"] >= 1
    assert codes["coat-due"] >= 1 and codes["weigh-due"] >= 1
    groups = [row["group"] for row in today["rows"]]
    assert groups == sorted(groups, key=["look", "weigh", "turn", "coat", "soon"].index)
    assert not any(row["stale"] for row in today["rows"])


def test_weights_fall_and_all_lie_in_the_past(yard, db):
    now = timezone.now()
    for piece in yard.pieces.all():
        weights = list(WeighIn.objects.filter(run__piece=piece, state="accepted").order_by("at"))
        assert all(w.at <= now + timedelta(minutes=1) for w in weights)
        if len(weights) > 2:
            assert weights[-1].mass_g < weights[0].mass_g


def test_every_demo_piece_opens_at_its_stage(yard, db):
    api = api_of(yard)
    for piece in Piece.objects.filter(workshop=yard):
        for stage in piece.stages.all():
            card = api.get(f"/bench/{piece.tag}/card/{stage.kind}").json()["card"]
            assert not [
                c for c in card["cautions"] if c["text"]["code"] in ("nothing-left", "out-of-range")
            ], (piece.tag, stage.kind)
        assert api.get(f"/bench/{piece.tag}/record").status_code == 200


def test_the_finished_piece_has_a_care_note(yard, db):
    done = Piece.objects.get(workshop=yard, finished_at__isnull=False)
    assert api_of(yard).get(f"/bench/{done.tag}/record").json()["care"]


def test_loading_again_keeps_what_is_there_unless_asked(yard, db, capsys):
    before = demo_workshop().id
    call_command("load_demo")
    assert demo_workshop().id == before and "already" in capsys.readouterr().out


def test_removing_the_demo_leaves_other_workshops(yard, db, workshop):
    Log.objects.create(workshop=workshop, number=1, species="pear")
    remove_demo()
    assert demo_workshop() is None and Log.objects.filter(workshop=workshop).exists()
    assert not Piece.objects.filter(tag__in=[p.tag for p in PIECES]).exists()
