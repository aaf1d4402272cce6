"""Instruments on a line, as real ones are reached: over sockets, with all that goes wrong on one."""

import itertools
import time
from datetime import UTC, datetime

import pytest

from kilndevices.lines import moisture_of, weight_of
from kilndevices.logger import LoggerLost, air_of, history_of, read_logger
from kilndevices.reading import read_meter, read_scale
from kilndevices.stands import Lines, LineStand, LoggerStand, MeterLines, ScaleLines


class Script(Lines):
    """Sends what it is told, then hangs up."""

    def __init__(self, *lines):
        self.lines = list(lines)

    def next(self):
        return self.lines.pop(0) if self.lines else None


@pytest.fixture
def stand():
    stands = []

    def start(lines, every_s=0.01):
        stands.append(LineStand(lines, every_s=every_s).start())
        return stands[-1].url

    yield start
    for one in stands:
        one.shutdown()
        one.server_close()


@pytest.mark.parametrize(
    ("line", "state", "grams"),
    [
        (b"ST +1234.5 g\r\n", "steady", 1234.5), (b"US 1.2345 kg", "moving", 1234.5), (b"1480 g", "steady", 1480.0),
        (b"ST,GS,+ 52.21 oz", "steady", pytest.approx(1480.13, abs=0.05)), (b"S 3,263 lb", "steady", pytest.approx(1480.07, abs=0.05)),
        (b"OL", "overload", None), (b"ST -12.0 g", "negative", -12.0), (b"12.0? g", "moving", 12.0),
        (b"", "garbage", None), (b"\xff\xfe\x00", "garbage", None), (b"hello", "garbage", None),
        (b"1 2 3", "garbage", None), (b"12 stone", "garbage", None), (b"9" * 200, "garbage", None),
    ],
)  # fmt: skip
def test_what_a_scales_line_says(line, state, grams):
    shown = weight_of(line)
    assert shown.state == state
    assert shown.value is None if grams is None else shown.value == grams


@pytest.mark.parametrize(
    ("line", "state"),
    [(b"MC 18.4 %", "steady"), (b"MC OL %", "overload"), (b"18.4", "garbage"), (b"MC 400 %", "garbage")],
)
def test_what_a_meters_line_says(line, state):
    assert moisture_of(line).state == state


def test_a_steady_weight_is_waited_for(stand):
    answer = read_scale(stand(ScaleLines(1480.0)), clock=time.monotonic)
    assert (answer.state, answer.value) == ("steady", 1480.0)


def test_kilograms_on_the_line_are_grams_in_the_app(stand):
    assert read_scale(stand(ScaleLines(1480.0, unit="kg")), clock=time.monotonic).value == pytest.approx(
        1500, abs=50
    )


def ticking():
    """A clock that counts the lines read instead of the seconds, so that a busy machine changes nothing."""
    return itertools.count().__next__


def test_a_scale_that_never_rests_says_so(stand):
    answer = read_scale(stand(ScaleLines(900.0, settle=10_000)), clock=ticking(), timeout_s=8.0)
    assert answer.state == "moving" and answer.value == pytest.approx(900, rel=0.9)


def test_overload_garbage_and_below_zero_are_told_apart(stand):
    assert read_scale(stand(Script(b"OL\r\n", b"OL\r\n")), clock=ticking(), timeout_s=8.0).state == "overload"
    assert (
        read_scale(stand(Script(b"\xf0\x9f\r\n", b"x!\r\n")), clock=ticking(), timeout_s=8.0).state
        == "garbage"
    )
    assert read_scale(stand(Script(b"ST -3.0 g\r\n")), clock=ticking(), timeout_s=8.0).state == "negative"


def test_garbage_before_and_between_steady_lines_does_not_matter(stand):
    lines = Script(
        b"34.5 g\r\n"[3:], b"ST +812.0 g\r\n", b"\x00\x01\r\n", b"ST +812.0 g\r\n", b"ST +812.0 g\r\n"
    )
    assert read_scale(stand(lines), clock=ticking(), timeout_s=20.0).value == 812.0


def test_a_lost_line_is_unreachable_and_a_dumb_one_silent(stand):
    assert read_scale("socket://127.0.0.1:9", clock=time.monotonic).state == "unreachable"
    assert read_scale("/dev/ttyNOSUCH", clock=time.monotonic).state == "unreachable"
    assert read_scale("gopher://x", clock=time.monotonic).state == "unreachable"
    hung_up = read_scale(stand(Script()), clock=time.monotonic, timeout_s=0.4)
    assert hung_up.state in ("unreachable", "silent")
    dumb = read_scale(stand(ScaleLines(1.0), every_s=5.0), clock=time.monotonic, timeout_s=0.4)
    assert dumb.state in ("silent", "moving")


def test_a_line_broken_in_the_middle_keeps_what_was_steady(stand):
    answer = read_scale(stand(Script(b"ST +700.0 g\r\n", b"ST +70")), clock=ticking(), timeout_s=8.0)
    assert answer.state in ("steady", "unreachable")
    assert answer.value in (700.0, None)


def test_a_pin_meter_is_read_and_past_its_range_it_says_so(stand):
    assert read_meter(stand(MeterLines(14.2)), clock=time.monotonic).value == pytest.approx(14.2, abs=0.2)
    off = read_meter(stand(MeterLines(14.2, wood_adds_pct=1.5)), clock=time.monotonic)
    assert off.value == pytest.approx(12.7, abs=0.2)  # set for another wood, it reads so much off
    wet = read_meter(stand(MeterLines(95.0)), clock=ticking(), timeout_s=8.0)
    assert wet.state == "overload" and "Wetter" in wet.words


@pytest.fixture
def logger():
    stand = LoggerStand(days=10).start()
    yield stand
    stand.shutdown()
    stand.server_close()


def test_a_logger_gives_its_memory_and_the_present(logger):
    found = read_logger(logger.url)
    assert len(found) == 41 and found[-1].at <= datetime.now(UTC)
    assert all(1 <= r.rh_pct <= 99 for r in found)
    assert [r.at for r in found] == sorted(r.at for r in found)


def test_a_load_is_put_on_the_stand_in_scale():
    from urllib.request import urlopen

    load = ScaleLines(100.0, settle=0)
    stand = LoggerStand(scale=load).start()
    try:
        urlopen(stand.url.replace("/air.json", "/load?g=777"), timeout=5).read()
        assert load.load_g == 777.0
    finally:
        stand.shutdown()
        stand.server_close()


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"[]",
        b"{}",
        b'{"at": "now", "air_c": 1, "rh_pct": 2}',
        b'{"at": "2026-01-01T00:00:00", "air_c": 1, "rh_pct": 2}',
    ],
)
def test_a_logger_that_speaks_otherwise_is_lost(data):
    with pytest.raises(LoggerLost):
        air_of(data)


def test_bad_rows_of_a_loggers_memory_are_left_out():
    data = b"at,air_c,rh_pct\n2026-01-01T00:00:00+00:00,18,55\nrubbish,1,2\n2026-01-02T00:00:00Z,,50\n"
    assert len(history_of(data)) == 1


def test_a_logger_out_of_reach_is_lost():
    for url in ("http://127.0.0.1:9/air.json", "https://127.0.0.1/air.json", "file:///etc/passwd"):
        with pytest.raises(LoggerLost):
            read_logger(url, timeout_s=1.0)
