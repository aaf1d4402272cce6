"""Reading an instrument on a serial line: a port of this machine, or an adapter on the network.

Everything goes through pyserial's URL handlers, so ``/dev/ttyUSB0`` and
``socket://host:port`` differ in one setting and in nothing else.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import serial

from kilndevices.lines import LINE_MOST, Shown, moisture_of, weight_of

__all__ = ["Answer", "read_line_instrument", "read_meter", "read_scale"]

BAUD = 9600
# A steady reading is believed once it came twice alike; a noisy line is given up after so many.
ALIKE = 0.5
LINES_MOST = 60
WORDS = {
    "steady": "Steady.",
    "moving": "Not steady yet: wait until it rests.",
    "overload": "Too heavy for this scale.",
    "negative": "Below zero: empty the scale and set it to zero.",
    "garbage": "It sends lines this cannot read: check its speed and format.",
    "silent": "It is connected and says nothing: is it switched on, and does it send by itself?",
    "unreachable": "It cannot be reached: check plug, network and the address under Shop.",
}


@dataclass(frozen=True, slots=True)
class Answer:
    """What an instrument said: its state, the value where there is one, and words for a person."""

    state: str
    value: float | None
    words: str


@contextmanager
def _open(url: str, timeout_s: float) -> Iterator[Any]:
    port = serial.serial_for_url(url, baudrate=BAUD, timeout=timeout_s / 4.0)
    try:
        yield port
    finally:
        port.close()


def read_line_instrument(
    url: str, *, parse: Callable[[bytes], Shown], timeout_s: float, clock: Callable[[], float]
) -> Answer:
    """Read lines until one is steady, the time is over, or the line is lost.

    Parameters
    ----------
    url : str
        Serial port or pyserial URL.
    parse : callable
        From a line to what it says.
    timeout_s : float
        How long to wait for a steady reading.
    clock : callable
        Seconds, from outside, so that a test need not wait.

    Returns
    -------
    answer : Answer
        Never raises: what is wrong is its state.
    """
    until = clock() + timeout_s
    last = Shown("silent")
    steady: float | None = None
    try:
        with _open(url, timeout_s) as port:
            for _ in range(LINES_MOST):
                line = port.read_until(b"\n", LINE_MOST + 1)
                if line:
                    shown = parse(line)
                    # the first line may have begun before we listened: garbage once is nothing
                    last = shown if shown.state != "garbage" or last.state == "silent" else last
                    if shown.state == "steady" and shown.value is not None:
                        if steady is not None and abs(shown.value - steady) <= ALIKE:
                            return Answer("steady", shown.value, WORDS["steady"])
                        steady = shown.value
                    else:
                        steady = None
                if clock() >= until:
                    break
    except (serial.SerialException, OSError, ValueError):
        if last.state in ("silent", "moving", "steady"):  # lost before it rested
            return Answer("unreachable", None, WORDS["unreachable"])
    value = last.value if last.state in ("moving", "negative") else None
    if last.state == "steady":  # one steady line and then nothing more
        return Answer("steady", last.value, WORDS["steady"])
    return Answer(last.state, value, WORDS[last.state])


def read_scale(url: str, *, clock: Callable[[], float], timeout_s: float = 2.0) -> Answer:
    """Return what a scale shows, in grams; see ``read_line_instrument``."""
    return read_line_instrument(url, parse=weight_of, timeout_s=timeout_s, clock=clock)


def read_meter(url: str, *, clock: Callable[[], float], timeout_s: float = 2.0) -> Answer:
    """Return what a moisture meter shows, in percent; see ``read_line_instrument``."""
    answer = read_line_instrument(url, parse=moisture_of, timeout_s=timeout_s, clock=clock)
    if answer.state == "overload":
        return Answer("overload", None, "Wetter than this meter reads.")
    return answer
