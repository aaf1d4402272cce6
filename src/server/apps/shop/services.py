"""Changing the workshop; one function a verb."""

from typing import Any

from django.contrib.auth import get_user_model
from django.db import transaction

from kilncore.bench import Lathe as CoreLathe
from kilncore.errors import Impossible, require_range
from kilncore.rules.finish import finish_system
from kilncore.rules.sanding import median_um
from kilncore.wood.emc import emc_pct
from server.apps.shop.models import JawSet, Lathe, Membership, Place, Plate, Preference, Workshop

__all__ = ["create_workshop", "equip", "save_lathe", "save_place", "save_preference", "save_way"]

_SCHOOLS = {
    "rough_wall": ("tenth", "computed"),
    "second_hold": ("tenon", "recess"),
    "inside": ("rim-down", "centre-out"),
    "ladder": ("long", "short-paste"),
}


@transaction.atomic
def create_workshop(*, name: str, username: str, password: str | None, is_demo: bool = False) -> Workshop:
    """Create a workshop with its first person and usual equipment."""
    user = get_user_model().objects.create_user(username=username, password=password)
    workshop = Workshop(name=name, is_demo=is_demo)
    workshop.full_clean()
    workshop.save()
    Membership.objects.create(user=user, workshop=workshop)
    equip(workshop)
    return workshop


def equip(workshop: Workshop) -> None:
    """Give a new workshop a usual lathe, jaws and one place, to be corrected in Shop."""
    Lathe.objects.create(
        workshop=workshop, name="Main lathe", swing_mm=400, min_rpm=50, max_rpm=2500, is_main=True
    )
    for low, high, rlow, rhigh, depth in ((38, 56, 44, 70, 16), (60, 85, 66, 95, 18), (88, 115, 96, 125, 20)):
        JawSet.objects.create(
            workshop=workshop,
            name=f"{(low + high) // 2} mm",
            tenon_low_mm=low,
            tenon_high_mm=high,
            recess_low_mm=rlow,
            recess_high_mm=rhigh,
            depth_mm=depth,
        )
    Plate.objects.create(workshop=workshop, name="80 mm faceplate", kind="faceplate", low_mm=80, high_mm=400)
    Place.objects.create(workshop=workshop, name="Shelf", air_c=18, rh_pct=50)


@transaction.atomic
def save_place(
    workshop: Workshop, *, place: Place | None = None, name: str, air_c: float, rh_pct: float
) -> Place:
    """Add or change a place; its air must be air."""
    require_range("rh_pct", rh_pct, 1.0, 99.0, "Air indoors is mostly between 35 and 70 %.")
    require_range("air_c", air_c, -5.0, 80.0)
    emc_pct(air_c, rh_pct=rh_pct)
    place = place or Place(workshop=workshop)
    place.name, place.air_c, place.rh_pct = name, air_c, rh_pct
    place.full_clean()
    place.save()
    return place


@transaction.atomic
def save_lathe(workshop: Workshop, *, lathe: Lathe | None = None, **values: Any) -> Lathe:
    """Add or change a lathe; its range must make sense to the core."""
    steps = _steps(str(values.get("steps", "")))
    CoreLathe(values["name"], values["swing_mm"], values["min_rpm"], values["max_rpm"], steps)
    lathe = lathe or Lathe(workshop=workshop, is_main=not workshop.lathes.exists())
    for key, value in values.items():
        setattr(lathe, key, value)
    lathe.full_clean()
    lathe.save()
    return lathe


def _steps(text: str) -> tuple[float, ...]:
    try:
        steps = tuple(float(s) for s in text.split(",") if s.strip())
    except ValueError:
        raise Impossible(
            "not-steps", "steps", "Speeds are numbers with commas between, such as 300, 600, 900."
        ) from None
    for step in steps:
        require_range("steps_rpm", step, 10.0, 6000.0)
    return steps


@transaction.atomic
def save_way(workshop: Workshop, changes: dict[str, Any]) -> Workshop:
    """Change the house way; unknown schools are named."""
    for key, value in changes.items():
        if key in _SCHOOLS and value not in _SCHOOLS[key]:
            words = " or ".join(_SCHOOLS[key])
            raise Impossible("no-such-school", key, "It is {known}.", {"known": words})
        setattr(workshop, key, value)
    finish_system(workshop.finish)
    require_range("home_rh_pct", workshop.home_rh_pct, 15.0, 85.0)
    require_range("home_c", workshop.home_c, 0.0, 40.0)
    require_range("finish_room_c", workshop.finish_room_c, -5.0, 40.0)
    require_range("stop_loss_per_week_pct", workshop.stop_loss_per_week_pct, 0.01, 5.0)
    _check_grits(workshop.grits)
    workshop.full_clean()
    workshop.save()
    return workshop


def _check_grits(text: str) -> None:
    known = {str(g) for g in median_um()}
    wrong = [g for g in (part.strip() for part in text.split(",")) if g and g not in known]
    if wrong or not text.strip():
        raise Impossible("no-such-grit", "grits", "P grits with commas between, such as 80, 120, 180.")


@transaction.atomic
def save_preference(user: Any, changes: dict[str, str]) -> Preference:
    """Change how a person reads figures."""
    preference, _ = Preference.objects.get_or_create(user=user)
    for key, value in changes.items():
        setattr(preference, key, value)
    preference.full_clean()
    preference.save()
    return preference
