"""How fast may this spin: the least of named limits, on this lathe."""

import math
from dataclasses import dataclass

from kilncore.bench import Lathe
from kilncore.errors import Impossible, Unknown, require_range
from kilncore.said import Figure, Limit, say
from kilncore.units import inches_from_mm

__all__ = ["CONDITIONS", "SPEED_STAGES", "SpeedAsk", "SpeedStage", "imbalance_limit_rpm", "speed_band"]


@dataclass(frozen=True, slots=True)
class SpeedStage:
    """A kind of work at the lathe and its rim rule: diameter in inches times rpm."""

    key: str
    label: str
    low_product: float
    high_product: float
    cap_rpm: float | None = None
    floor_rpm: float | None = None


# Products and caps are common practice; caps of sanding, buffing and boring were
# fitted to it and validate nothing.
SPEED_STAGES: dict[str, SpeedStage] = {
    s.key: s
    for s in (
        SpeedStage("rough", "out of round", 4000.0, 6000.0),
        SpeedStage("true", "running true", 6000.0, 9000.0),
        SpeedStage("finish", "finishing cuts", 6000.0, 9000.0),
        SpeedStage("part", "parting off", 4000.0, 6000.0),
        SpeedStage("foot", "reversed, at the foot", 3000.0, 5000.0),
        SpeedStage("sand", "power sanding", 2500.0, 6000.0, cap_rpm=450.0, floor_rpm=350.0),
        SpeedStage("buff", "buffing between coats", 2500.0, 6000.0, cap_rpm=550.0),
        SpeedStage("bore", "boring; the bit's own diameter", 300.0, 475.0, cap_rpm=500.0),
    )
}

# Share of the rim rule left when the work is not sound; our assumption.
CONDITIONS: dict[str, tuple[str, float]] = {
    "barky": ("loose or thick bark", 0.9),
    "cracked": ("cracked", 0.6),
    "punky": ("soft, punky wood", 0.8),
    "winged": ("winged or square", 1.0),
}

FORCE_SHARE = 0.10
GRAVITY = 9.81


@dataclass(frozen=True, slots=True)
class SpeedAsk:
    """What the speed depends on. ``swing_mm`` is the circle the farthest corner sweeps."""

    swing_mm: float
    stage: str = "rough"
    conditions: tuple[str, ...] = ()
    length_mm: float | None = None
    tailstock: bool = True
    rated_rpm: float | None = None
    rated_name: str = ""
    mass_kg: float | None = None
    offset_mm: float | None = None


def imbalance_limit_rpm(mass_kg: float, *, offset_mm: float, lathe_kg: float) -> float:
    """Return the speed at which the unbalanced force is a tenth of the lathe's weight.

    Parameters
    ----------
    mass_kg : float
        Work on the spindle. [kg]
    offset_mm : float
        Centre of mass to axis. [mm]
    lathe_kg : float
        Mass of the lathe. [kg]

    Returns
    -------
    limit_rpm : float
        From m e w^2 = 0.1 M g. [rpm]

    References
    ----------
    .. [iso-21940-11] unbalance force; the tenth is [assumed].
    """
    require_range("mass_kg", mass_kg, 0.01, 200.0)
    require_range("offset_mm", offset_mm, 0.01, 300.0)
    require_range("lathe_kg", lathe_kg, 5.0, 3000.0)
    omega = math.sqrt(FORCE_SHARE * lathe_kg * GRAVITY / (mass_kg * offset_mm / 1000.0))
    return omega * 60.0 / (2.0 * math.pi)


def speed_band(ask: SpeedAsk, *, lathe: Lathe) -> Figure:
    """Return a speed band with every limit named and the governing one marked.

    Parameters
    ----------
    ask : SpeedAsk
        Work, stage and its state.
    lathe : Lathe
        Its range or steps, swing and mass.

    Returns
    -------
    speed_rpm : Figure
        ``low`` to ``high``; ``value`` is where to start. [rpm]

    Raises
    ------
    Impossible
        If the work does not clear the bed, or the lathe's slowest speed is too fast.
    Unknown
        For an unknown stage or condition.

    References
    ----------
    .. [common-practice] diameter in inches times rpm.
    """
    if ask.stage not in SPEED_STAGES:
        raise Unknown("stage", ask.stage, list(SPEED_STAGES))
    require_range("swing_mm", ask.swing_mm, 5.0, 1500.0)
    _check_swing(ask, lathe)
    stage = SPEED_STAGES[ask.stage]
    limits = _limits(ask, stage, lathe)
    governing = min(limits, key=lambda limit: limit.value or math.inf)
    top = lathe.at_most(governing.value or 0.0)
    if top is None:
        slowest = min(lathe.steps_rpm) if lathe.steps_rpm else lathe.min_rpm
        raise Impossible(
            "lathe-too-fast",
            "lathe",
            "{lathe} turns no slower than {slowest_rpm}; this work should not go above "
            "{limit_rpm} ({limit}).",
            {
                "lathe": lathe.name,
                "slowest_rpm": slowest,
                "limit_rpm": governing.value or 0.0,
                "limit": governing.label,
            },
        )
    scale = _scale(ask)
    low = stage.floor_rpm or stage.low_product * scale / inches_from_mm(ask.swing_mm)
    low_rpm = lathe.at_most(min(low, top)) or top
    start = lathe.at_most(0.6 * low_rpm) or (min(lathe.steps_rpm) if lathe.steps_rpm else lathe.min_rpm)
    return Figure(
        name="speed_rpm",
        label=f"Speed, {stage.label}",
        value=start,
        low=low_rpm,
        high=top,
        why=governing.why,
        limits=tuple(Limit(m.key, m.label, m.value, m.why, m.source, m.key == governing.key) for m in limits),
        inputs={"swing_mm": ask.swing_mm, "stage": stage.label, "lathe": lathe.name},
        source=governing.source,
        group="speed",
        big=True,
    )


def _check_swing(ask: SpeedAsk, lathe: Lathe) -> None:
    if ask.stage != "bore" and ask.swing_mm > lathe.swing_mm:
        raise Impossible(
            "larger-than-swing",
            "diameter_mm",
            "{swing_mm} across does not clear the bed of {lathe}: it swings {lathe_swing_mm}. "
            "Cut the blank to less than that, or choose another lathe.",
            {"swing_mm": ask.swing_mm, "lathe": lathe.name, "lathe_swing_mm": lathe.swing_mm},
        )


def _scale(ask: SpeedAsk) -> float:
    scale = 1.0
    for condition in ask.conditions:
        if condition not in CONDITIONS:
            raise Unknown("conditions", condition, list(CONDITIONS))
        scale *= CONDITIONS[condition][1]
    return scale


def _limits(ask: SpeedAsk, stage: SpeedStage, lathe: Lathe) -> list[Limit]:
    inches = inches_from_mm(ask.swing_mm)
    scale = _scale(ask)
    words = ", ".join(CONDITIONS[c][0] for c in ask.conditions)
    rim = stage.high_product * scale / inches
    limits = [
        Limit(
            "rim-speed",
            "rim speed",
            rim,
            say(
                "rim-speed",
                "Diameter in inches times rpm stays below {product} for work {stage}"
                + (", lowered because it is {words}" if words else "")
                + "; the rim then runs at {rim_m_s}.",
                product=stage.high_product * scale,
                stage=stage.label,
                words=words,
                rim_m_s=math.pi * ask.swing_mm / 1000.0 * rim / 60.0,
            ),
            "common-practice",
        ),
        Limit(
            "lathe",
            "the lathe's top speed",
            max(lathe.steps_rpm) if lathe.steps_rpm else lathe.max_rpm,
            say("lathe-top", "{lathe} runs no faster.", lathe=lathe.name),
            "maker",
        ),
    ]
    if stage.cap_rpm is not None:
        text = "{stage}: no faster than {cap_rpm}, whatever the size."
        why = say("work-cap", text, stage=stage.label.capitalize(), cap_rpm=stage.cap_rpm)
        limits.append(Limit("work", stage.label, stage.cap_rpm, why, "common-practice"))
    if ask.rated_rpm is not None:
        text = "{name} is rated {rated_rpm}. That holds whatever the wood allows."
        why = say("hold-rating", text, name=ask.rated_name or "The plate", rated_rpm=ask.rated_rpm)
        limits.append(Limit("hold", "rating of the hold", ask.rated_rpm, why, "common-practice"))
    limits.extend(_slender(ask, rim))
    limits.extend(_unbalanced(ask, lathe))
    return limits


def _slender(ask: SpeedAsk, rim: float) -> list[Limit]:
    if not ask.length_mm or ask.length_mm <= 1.2 * ask.swing_mm:
        return []
    share = 0.85 if ask.tailstock else 0.65
    text = "It stands {length_mm} out from the headstock at {swing_mm} across" + (
        ", with the tailstock up." if ask.tailstock else ", without a tailstock."
    )
    why = say("slender", text, length_mm=ask.length_mm, swing_mm=ask.swing_mm)
    return [Limit("slender", "long for its width", share * rim, why, "assumed")]


def _unbalanced(ask: SpeedAsk, lathe: Lathe) -> list[Limit]:
    if ask.mass_kg is None or ask.offset_mm is None or lathe.mass_kg is None:
        return []
    value = imbalance_limit_rpm(ask.mass_kg, offset_mm=ask.offset_mm, lathe_kg=lathe.mass_kg)
    why = say(
        "imbalance",
        "{mass_kg} sitting {offset_mm} off the axis pulls with a tenth of the lathe's own weight.",
        mass_kg=ask.mass_kg,
        offset_mm=ask.offset_mm,
    )
    return [Limit("imbalance", "out of balance", value, why, "iso-21940-11")]
