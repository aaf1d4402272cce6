"""Drying in a microwave oven: how long a go, how long a rest, and when to stop."""

from dataclasses import dataclass

import numpy as np

from kilncore.drying.model import evaporated_g
from kilncore.errors import Impossible, require_range
from kilncore.said import Caution, Sentence, say
from kilncore.wood.species import species

__all__ = ["GoDone", "MicrowavePlan", "go_seconds", "microwave_plan"]

# Heat a gram of wet wood takes in one go; 60 s at 900 W on 480 g, 90 s on 700 g (common practice).
JOULES_PER_G = 115.0
SHORTEST_S, LONGEST_S = 20.0, 120.0
REST_MIN, REST_WARM_MIN = 30.0, 45.0
# Loss of a go below this share of its weight: stop; and goes in a day (assumed).
STOP_LOSS_PCT = 0.4
GOES_A_DAY = 3
THICK_MM = 12.0


@dataclass(frozen=True, slots=True)
class GoDone:
    """A go as it was: weighed before and, once cold, after."""

    seconds: float
    power_w: float
    before_g: float
    after_g: float | None


@dataclass(frozen=True, slots=True)
class MicrowavePlan:
    """The next go, or why there is none. ``stop`` where it is done or must not begin."""

    seconds: float
    rest_min: float
    expected_loss_g: float
    goes_left: int
    stop: bool
    why: Sentence
    cautions: tuple[Caution, ...]


def go_seconds(mass_g: float, *, power_w: float) -> float:
    """Return how long a go on high is for a weight and an oven's power.

    Parameters
    ----------
    mass_g : float
        Weight. [g]
    power_w : float
        Of the oven. [W]

    Returns
    -------
    seconds : float
        Between the shortest and the longest go.

    References
    ----------
    .. [common-practice] 60 s on about 480 g, 90 s on about 700 g, at 900 W.
    """
    return min(max(JOULES_PER_G * mass_g / power_w, SHORTEST_S), LONGEST_S)


def microwave_plan(
    mass_g: float,
    *,
    power_w: float,
    mc_pct: float,
    target_mc_pct: float,
    wall_mm: float,
    species_key: str,
    done: tuple[GoDone, ...] = (),
    metal: bool = False,
    holds_pith: bool = False,
) -> MicrowavePlan:
    """Return the next go in the microwave oven.

    Parameters
    ----------
    mass_g : float
        Weight now. [g]
    power_w : float
        Of the oven, as its plate says. [W]
    mc_pct, target_mc_pct : float
        Moisture now and wanted. [%]
    wall_mm : float
        Thickest wall. [mm]
    species_key : str
        Wood.
    done : tuple of GoDone
        Goes so far, oldest first.
    metal : bool
        Whether any metal is in or on it (tag, screw, staple).
    holds_pith : bool
        Whether the pith is in it.

    Returns
    -------
    plan : MicrowavePlan
        Seconds by mass and power, rest, expected loss, how many more.

    Raises
    ------
    Impossible
        With metal in it.
    OutOfRange
        For a weight or a power no oven takes.

    References
    ----------
    .. [common-practice] 60 to 90 s on high, rest until cold, 8 to 9 g lost in the first minute.
    """
    if metal:
        raise Impossible(
            "metal",
            "metal",
            "Never with metal in it: take out tags, screws and staples first. Metal arcs and starts fires.",
        )
    require_range("mass_g", mass_g, 20.0, 6000.0, "Heavier work does not fit, and its inside would cook.")
    require_range("power_w", power_w, 200.0, 2000.0)
    require_range("mc_pct", mc_pct, 0.0, 250.0)
    seconds = go_seconds(mass_g, power_w=power_w)
    if mc_pct < target_mc_pct + 8.0:  # near the end the inside overheats: shorter
        seconds = max(0.6 * seconds, SHORTEST_S)
    seconds = 5.0 * round(seconds / 5.0)
    dry = mass_g / (1.0 + mc_pct / 100.0)
    loss = float(evaporated_g(power_w, seconds, np.array([mc_pct]))[0])
    goes = _goes_left(dry, mc_pct, target_mc_pct, power_w, seconds)
    stop, why = _verdict(seconds, mc_pct, target_mc_pct, loss, goes, done)
    rest = REST_WARM_MIN if mass_g > 900.0 else REST_MIN
    return MicrowavePlan(
        seconds,
        rest,
        round(loss, 1),
        0 if stop else goes,
        stop,
        why,
        _cautions(species_key, holds_pith, wall_mm),
    )


def _goes_left(dry_g: float, mc_pct: float, target: float, power_w: float, seconds: float) -> int:
    count = 0
    while mc_pct > target and count < 200:
        gone = float(evaporated_g(power_w, seconds, np.array([mc_pct]))[0])
        mc_pct -= max(100.0 * gone / dry_g, 0.02)
        count += 1
    return count


def _verdict(
    seconds: float, mc_pct: float, target: float, loss: float, goes: int, done: tuple[GoDone, ...]
) -> tuple[bool, Sentence]:
    if mc_pct <= target:
        text = "At {mc_pct} it is where it shall be: stop, and let it settle on a shelf for some days."
        return True, say("mw-there", text, mc_pct=mc_pct)
    if done and done[-1].after_g is None:
        return True, say("mw-weigh-first", "Let it cool down completely, then weigh it, before another go.")
    if len(done) >= 2:
        last = [100.0 * (g.before_g - (g.after_g or g.before_g)) / g.before_g for g in done[-2:]]
        if max(last) < STOP_LOSS_PCT:
            text = "The last two goes took less than {stop_pct} of its weight: stop here."
            return True, say("mw-stands-still", text, stop_pct=STOP_LOSS_PCT)
    text = (
        "{seconds} seconds on high for its weight and the oven's power; about {loss_g} of water goes. "
        "Then rest until it is cold, and weigh. About {goes} goes like it, {a_day} a day at most."
    )
    return False, say(
        "mw-go", text, seconds=str(round(seconds)), loss_g=loss, goes=str(goes), a_day=str(GOES_A_DAY)
    )


def _cautions(species_key: str, holds_pith: bool, wall_mm: float) -> tuple[Caution, ...]:
    said = [
        Caution("stop", say("mw-metal", "No metal in or on it: no tag, no screw, no staple.")),
        Caution("stop", say("mw-alone", "Never leave it alone; stop at the first smell of scorching. It can catch fire.")),
        Caution("care", say("mw-own-oven", "Not the kitchen's oven: steam carries tannin and dust; ventilate.")),
        Caution("care", say("mw-steam", "Hot steam and hot wood: gloves, and open the door away from your face.")),
        Caution("care", say("mw-rest", "Cold all through before the next go, half an hour at least: the inside is hotter.")),
    ]  # fmt: skip
    if "resinous" in species(species_key).traits:
        said.insert(
            0, Caution("stop", say("mw-resin", "Resinous wood boils and may catch fire: better not."))
        )
    if holds_pith:
        said.insert(
            0, Caution("care", say("mw-pith", "With the pith in it, it will very likely split in the oven."))
        )
    if wall_mm > THICK_MM:
        text = "A wall of {wall_mm} cooks inside while the skin looks sound: this is for thin work."
        said.insert(0, Caution("care", say("mw-thick", text, wall_mm=wall_mm)))
    return tuple(said)
