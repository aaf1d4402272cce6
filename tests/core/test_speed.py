"""Speed: the list of common practice, each limit by name, and its ordering."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kilncore.errors import Impossible, OutOfRange, Unknown
from kilncore.rules.speed import SPEED_STAGES, SpeedAsk, imbalance_limit_rpm, speed_band
from tests.support import a_lathe, reference

ROWS = reference("speeds.csv")


def band_of(row):
    ask = SpeedAsk(
        swing_mm=float(row["swing_in"]) * 25.4, stage=row["stage"],
        conditions=tuple(c for c in row["conditions"].split("+") if c),
        length_mm=float(row["length_in"]) * 25.4 if row["length_in"] else None,
    )  # fmt: skip
    return speed_band(ask, lathe=a_lathe())


@pytest.mark.parametrize(
    "row", [r for r in ROWS if r["verdict"] == "fits"], ids=lambda r: f"common-practice: {r['what']}"
)
def test_bands_overlap_what_turners_state(row):
    band = band_of(row)
    assert band.low <= float(row["high_rpm"]) * 1.1 and float(row["low_rpm"]) <= band.high * 1.1


@pytest.mark.parametrize(
    "row", [r for r in ROWS if r["verdict"] == "miss-fast"], ids=lambda r: f"known miss: {r['what']}"
)
def test_known_misses_are_turners_slower_than_the_rim_rule(row):
    """Said openly: on small sound work the rim rule allows more than these turners take."""
    assert band_of(row).high > float(row["high_rpm"]) * 1.1


def governing(figure):
    return next(limit for limit in figure.limits if limit.governs)


def test_the_least_limit_governs_and_says_so():
    figure = speed_band(SpeedAsk(290.0, "true"), lathe=a_lathe())
    values = [limit.value for limit in figure.limits]
    assert governing(figure).value == min(values)
    assert figure.high <= min(values) and figure.why is governing(figure).why
    assert 9000 / (290 / 25.4) - 10 < figure.high <= 9000 / (290 / 25.4)


def test_a_rated_plate_caps_the_speed():
    figure = speed_band(SpeedAsk(150.0, "foot", rated_rpm=300.0, rated_name="plate"), lathe=a_lathe())
    assert figure.high == 300 and governing(figure).key == "hold"


def test_pulley_steps_are_rounded_down_never_up():
    lathe = a_lathe(steps_rpm=(300.0, 500.0, 750.0, 1100.0), min_rpm=300.0)
    assert speed_band(SpeedAsk(290.0, "true"), lathe=lathe).high == 750
    assert speed_band(SpeedAsk(290.0, "rough"), lathe=lathe).high == 500


def test_a_lathe_whose_slowest_is_too_fast_is_named():
    with pytest.raises(Impossible) as caught:
        speed_band(SpeedAsk(390.0, "rough", ("cracked",)), lathe=a_lathe(min_rpm=500.0))
    assert "500 rpm" in caught.value.message and "Test bed" in caught.value.message


def test_work_wider_than_the_swing_names_the_diameter():
    with pytest.raises(Impossible) as caught:
        speed_band(SpeedAsk(420.0), lathe=a_lathe())
    assert caught.value.field == "diameter_mm" and "400 mm" in caught.value.message


@given(st.floats(60, 380), st.sampled_from([k for k in SPEED_STAGES if k != "bore"]))
def test_bands_are_in_order_and_inside_the_lathe(swing, stage):
    figure = speed_band(SpeedAsk(swing, stage), lathe=a_lathe())
    assert 50 <= figure.value <= figure.low <= figure.high <= 2500


@given(st.floats(60, 300), st.floats(1.05, 1.25))
def test_larger_work_never_spins_faster(swing, factor):
    slow = speed_band(SpeedAsk(swing * factor, "true"), lathe=a_lathe())
    assert slow.high <= speed_band(SpeedAsk(swing, "true"), lathe=a_lathe()).high


@pytest.mark.parametrize("condition", ["barky", "cracked", "punky"])
def test_unsound_wood_goes_slower(condition):
    sound = speed_band(SpeedAsk(280.0, "rough"), lathe=a_lathe())
    assert speed_band(SpeedAsk(280.0, "rough", (condition,)), lathe=a_lathe()).high < sound.high


def test_long_thin_work_goes_slower_without_tailstock():
    def top(tailstock):
        return speed_band(SpeedAsk(100.0, "true", length_mm=280.0, tailstock=tailstock), lathe=a_lathe()).high

    assert top(False) < top(True) < speed_band(SpeedAsk(100.0, "true"), lathe=a_lathe()).high


def test_imbalance_limit_pulls_with_a_tenth_of_the_lathe():
    rpm = imbalance_limit_rpm(4.0, offset_mm=10.0, lathe_kg=180.0)
    omega = rpm * 2 * math.pi / 60
    assert 4.0 * 0.010 * omega**2 == pytest.approx(0.1 * 180 * 9.81)
    figure = speed_band(SpeedAsk(290.0, "rough", mass_kg=12.0, offset_mm=25.0), lathe=a_lathe())
    assert governing(figure).key == "imbalance"


def test_unknown_work_and_impossible_sizes_are_refused():
    with pytest.raises(Unknown):
        speed_band(SpeedAsk(200.0, "juggling"), lathe=a_lathe())
    with pytest.raises(Unknown):
        speed_band(SpeedAsk(200.0, conditions=("haunted",)), lathe=a_lathe())
    with pytest.raises(OutOfRange):
        speed_band(SpeedAsk(0.0), lathe=a_lathe())
