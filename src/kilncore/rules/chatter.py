"""It chatters: what to change, in which order, for this stage."""

from dataclasses import dataclass

from kilncore.bench import Lathe
from kilncore.errors import Unknown, require_range
from kilncore.said import Sentence, say

__all__ = ["SIGNS", "Advice", "ChatterAsk", "chatter_advice"]

SIGNS: dict[str, str] = {
    "whole-lathe": "the whole lathe shakes",
    "rim": "rings or a howl at the rim",
    "inside-deep": "rings deep inside",
    "foot": "it wobbles more and more at the foot",
    "tool": "the tool hums in the hand",
    "sudden": "it came all at once",
}

STAGES = ("rough", "true", "finish", "part", "foot", "sand", "buff", "bore")


@dataclass(frozen=True, slots=True)
class ChatterAsk:
    """What shakes, when, and what runs. Overhang of the tool in mm; wall where it is thin already."""

    stage: str
    sign: str
    speed_rpm: float
    overhang_mm: float | None = None
    bar_mm: float | None = None
    wall_mm: float | None = None
    green: bool = False

    def __post_init__(self) -> None:
        if self.stage not in STAGES:
            raise Unknown("stage", self.stage, list(STAGES))
        if self.sign not in SIGNS:
            raise Unknown("sign", self.sign, list(SIGNS))
        require_range("speed_rpm", self.speed_rpm, 20.0, 6000.0)


@dataclass(frozen=True, slots=True)
class Advice:
    """What to do, most likely first; ``stop`` where it must stand still before anything else."""

    stop: bool
    steps: tuple[Sentence, ...]


def chatter_advice(ask: ChatterAsk, *, lathe: Lathe) -> Advice:
    """Return what to change when it vibrates, in order.

    Parameters
    ----------
    ask : ChatterAsk
        Stage, sign, speed and tool.
    lathe : Lathe
        Its speeds.

    Returns
    -------
    advice : Advice
        Speed first, then the edge, then the overhang, then more mass; a sudden change or a growing
        wobble stops the work first.

    References
    ----------
    .. [common-practice] order of the trade.
    """
    down = lathe.at_most(0.85 * ask.speed_rpm)
    up = lathe.at_most(1.1 * ask.speed_rpm)
    stop = ask.sign in ("sudden", "foot")
    steps: list[Sentence] = []
    if stop:
        steps.append(
            say(
                "stop",
                "Stop the lathe. Find what changed before it turns again: crack, bark, jaws, tailstock.",
            )
        )
        steps.append(
            say(
                "check-hold",
                "Tighten the jaws, look for dust or resin in them, see that the shoulder sits."
                + (" Green wood has given way by now." if ask.green else ""),
            )
        )
    if ask.sign == "foot":
        steps.append(say("block", "True the block or pad itself: its wobble is the foot's wobble."))
    if ask.sign == "whole-lathe":
        steps.append(
            say(
                "balance",
                "It is out of balance: turn it by hand and see where it stops; hang a weight opposite and read its limit here.",
            )
        )
    if down is not None:
        steps.append(
            say("slower", "Slower: {to_rpm} instead of {from_rpm}.", to_rpm=down, from_rpm=ask.speed_rpm)
        )
    steps.extend(_tool_steps(ask))
    if (
        up is not None
        and up > ask.speed_rpm
        and ask.sign not in ("whole-lathe", "sudden", "foot")
        and ask.stage != "bore"
    ):
        steps.append(
            say(
                "faster", "If slower did not help and nothing is loose, a little faster: {to_rpm}.", to_rpm=up
            )
        )
    steps.extend(_mass_steps(ask))
    return Advice(stop, tuple(steps))  # fmt: skip


def _tool_steps(ask: ChatterAsk) -> list[Sentence]:
    if ask.stage in ("sand", "buff"):
        return [say("lighter", "Press less, and let the pad clear.")]
    steps = [say("sharpen", "Sharpen: a dull edge pushes the work away and lets it spring back.")]
    if ask.overhang_mm and ask.bar_mm and ask.overhang_mm > 12.0 * ask.bar_mm:
        text = "Shorter: {overhang_mm} hangs over the rest; a bar of {bar_mm} is calm up to {limit_mm}."
        steps.append(say("overhang-limit", text, overhang_mm=ask.overhang_mm, bar_mm=ask.bar_mm, limit_mm=12.0 * ask.bar_mm))  # fmt: skip
    else:
        steps.append(say("overhang", "Bring the rest nearer; less tool hanging over it."))
    steps.append(say("lighter-cut", "A lighter cut with the bevel rubbing."))
    return steps


def _mass_steps(ask: ChatterAsk) -> list[Sentence]:
    steps = []
    if ask.sign in ("rim", "inside-deep") and ask.stage in ("true", "finish"):
        steps.append(say("support", "Fingers behind the wall, or a steady; tailstock up if the form allows."))
        steps.append(
            say("ballast", "Next time finish the rim while the middle still stands: mass kept is calm kept.")
        )
        if ask.wall_mm is not None and ask.wall_mm < 5.0:
            text = "A wall of {wall_mm} bends away from the tool: scrape no more, sand it."
            steps.append(say("too-thin", text, wall_mm=ask.wall_mm))
    else:
        steps.append(say("tailstock", "Tailstock up, quill short and locked."))
    return steps
