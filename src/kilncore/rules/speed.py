"""How fast may this spin: the least of named limits, on this lathe."""

import math
from dataclasses import dataclass

from kilncore.bench import Lathe
from kilncore.errors import Impossible, Unknown, require_range
from kilncore.said import Figure, Limit, say
from kilncore.units import inches_from_mm

__all__ = [
    "CONDITIONS",
    "GRADES_MM_S",
    "SPEED_STAGES",
    "RimSpeed",
    "SpeedAsk",
    "SpeedStage",
    "balance_grade",
    "imbalance_limit_rpm",
    "offset_from_counterweight_mm",
    "speed_band",
    "surface_speeds",
]


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
# Balance quality grades, e times omega in mm/s; the coarse end of the standard's row.
GRADES_MM_S = (4000.0, 1600.0, 630.0, 250.0, 100.0, 40.0, 16.0, 6.3)
# The coarsest a free-standing lathe is asked to carry (assumed).
COARSEST_MM_S = 630.0
# Share of the motor's power that reaches the edge (assumed).
AT_THE_EDGE = 0.7


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
    limits.extend(_graded(ask))
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


def _graded(ask: SpeedAsk) -> list[Limit]:
    if ask.offset_mm is None:
        return []
    value = COARSEST_MM_S / ask.offset_mm * 60.0 / (2.0 * math.pi)
    text = "Its centre of gravity circles {offset_mm} off the axis: past balance grade G {grade} it shakes the floor."
    why = say("balance-grade", text, offset_mm=ask.offset_mm, grade=f"{COARSEST_MM_S:.0f}")
    return [Limit("balance-grade", "balance grade", value, why, "iso-21940-11")]


def offset_from_counterweight_mm(weight_g: float, *, radius_mm: float, mass_kg: float) -> float:
    """Return how far the centre of gravity lies off the axis, from the weight that balances it.

    Parameters
    ----------
    weight_g : float
        Hung on the light side until the work stays where it is left. [g]
    radius_mm : float
        Where it hangs. [mm]
    mass_kg : float
        The work. [kg]

    Returns
    -------
    offset_mm : float
        Counterweight times radius over mass. [mm]

    References
    ----------
    .. [geometry] balance of moments.
    """
    require_range("weight_g", weight_g, 0.1, 20000.0)
    require_range("radius_mm", radius_mm, 1.0, 800.0)
    require_range("mass_kg", mass_kg, 0.01, 200.0)
    return weight_g / 1000.0 * radius_mm / mass_kg


def balance_grade(offset_mm: float, *, speed_rpm: float) -> tuple[float, float]:
    """Return e times omega, and the balance grade it falls into.

    Parameters
    ----------
    offset_mm : float
        Centre of gravity to axis. [mm]
    speed_rpm : float
        Speed. [rpm]

    Returns
    -------
    e_omega, grade : float
        Both in mm/s; the finest grade not below it, the coarsest of the row past it.

    References
    ----------
    .. [iso-21940-11] grades G are e_per times omega in mm/s.
    """
    product = offset_mm * speed_rpm * 2.0 * math.pi / 60.0
    return product, next((g for g in reversed(GRADES_MM_S) if product <= g), GRADES_MM_S[0])


@dataclass(frozen=True, slots=True)
class RimSpeed:
    """Speed of the surface at a radius, at the slow and fast end of the band; what the motor can push there."""

    radius_mm: float
    low_m_s: float
    high_m_s: float
    push_n: float | None


def surface_speeds(
    swing_mm: float, *, low_rpm: float, high_rpm: float, power_w: float | None = None, rows: int = 5
) -> tuple[RimSpeed, ...]:
    """Return how fast the surface runs from the rim to the centre.

    Parameters
    ----------
    swing_mm : float
        Circle of the farthest corner. [mm]
    low_rpm, high_rpm : float
        The band. [rpm]
    power_w : float, optional
        Of the motor; most of it reaches the edge.
    rows : int
        How many radii.

    Returns
    -------
    rows : tuple of RimSpeed
        Rim first; the centre stands still.

    References
    ----------
    .. [geometry] pi d n.
    """
    out = []
    for i in range(rows):
        r = swing_mm / 2.0 * (1.0 - i / (rows - 1))
        low, high = (2.0 * math.pi * r / 1000.0 * n / 60.0 for n in (low_rpm, high_rpm))
        push = AT_THE_EDGE * power_w / high if power_w and high > 0.1 else None
        out.append(RimSpeed(r, low, high, push))
    return tuple(out)
