"""The workshop's scale and moisture meter, read where Shop says they are."""

import time

from kilndevices.reading import read_meter, read_scale
from server.apps.drying.schemas import MeterShown, ScaleOut
from server.apps.shop.models import Workshop
from server.apps.shop.reach import require_reach

__all__ = ["meter_now", "scale_now"]

NONE = "No {what} is set up. Add it under Shop, Instruments."


def scale_now(workshop: Workshop) -> ScaleOut:
    """Return what the scale shows."""
    if not workshop.scale_url:
        return ScaleOut(mass_g=None, state="none", words=NONE.format(what="scale"))
    require_reach(workshop.scale_url, "scale_url")
    answer = read_scale(workshop.scale_url, clock=time.monotonic)
    return ScaleOut(mass_g=answer.value, state=answer.state, words=answer.words)


def meter_now(workshop: Workshop) -> MeterShown:
    """Return what the moisture meter shows."""
    if not workshop.meter_url:
        return MeterShown(shown_pct=None, state="none", words=NONE.format(what="moisture meter"))
    require_reach(workshop.meter_url, "meter_url")
    answer = read_meter(workshop.meter_url, clock=time.monotonic)
    return MeterShown(shown_pct=answer.value, state=answer.state, words=answer.words)
