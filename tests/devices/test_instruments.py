"""Stand-ins give what a real instrument would: divisions, noise, overload, and the same again."""

import pytest

from kilndevices.instruments import Air, SimulatedClimateLogger, SimulatedScale


def test_a_scale_shows_whole_divisions_near_the_truth():
    scale = SimulatedScale(1, division_g=2.0)
    shown = [scale.weigh(1234.0).mass_g for _ in range(50)]
    assert all(g % 2 == 0 and abs(g - 1234) < 8 for g in shown) and len(set(shown)) > 1


def test_a_scale_says_overload_and_never_shows_less_than_nothing():
    scale = SimulatedScale(2, capacity_g=5000.0, noise_g=3.0)
    heavy = scale.weigh(5100.0)
    assert heavy.overload and not heavy.stable and heavy.mass_g == 5000.0
    assert all(scale.weigh(0.0).mass_g >= 0 for _ in range(30))


def test_the_same_seed_gives_the_same_readings():
    def five(seed):
        scale = SimulatedScale(seed)
        return [scale.weigh(900.0).mass_g for _ in range(5)]

    assert five(7) == five(7) and five(7) != five(8)


@pytest.mark.parametrize("day", [0.0, 12.5, 364.9])
def test_a_logger_swings_round_its_mean_and_repeats_a_day(day):
    logger = SimulatedClimateLogger(3, mean=Air(18.0, 55.0), swing_c=2.0, swing_rh_pct=5.0)
    first = logger.read(day)
    assert first == logger.read(day)
    assert abs(first.air_c - 18) <= 2.05 and abs(first.rh_pct - 55) <= 5.05


def test_a_logger_never_shows_air_that_cannot_be():
    wet = SimulatedClimateLogger(4, mean=Air(10.0, 98.0), swing_rh_pct=20.0)
    assert all(1 <= wet.read(d / 3).rh_pct <= 99 for d in range(60))
