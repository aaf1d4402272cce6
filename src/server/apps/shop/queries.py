"""Reading the workshop; everything starts from who asks."""

from django.http import HttpRequest
from django.shortcuts import get_object_or_404

from kilncore import bench as core
from kilncore.drying.climate import Air, PlaceAir, Spell
from kilncore.equipment import Tool
from server.api.auth import no_workshop
from server.apps.shop.models import Lathe, Place, Preference, Workshop

__all__ = ["bench_of", "lathe_of", "place_air", "place_of", "preference_of", "workshop_of"]


def workshop_of(request: HttpRequest) -> Workshop:
    """Return the workshop of whoever is signed in; 404 if they have none."""
    found = Workshop.objects.filter(membership__user=request.user).order_by("id").first()
    if found is None:
        raise no_workshop()
    return found


def preference_of(user: object) -> Preference:
    """Return how a person reads figures; not stored until changed."""
    found = Preference.objects.filter(user=user).first()
    return found or Preference(user=user)


def place_of(workshop: Workshop, place_id: int) -> Place:
    """Return a place of this workshop or 404."""
    return get_object_or_404(Place, workshop=workshop, id=place_id)


def place_air(place: Place) -> PlaceAir:
    """Return a place's air as the core sees it; its clock counts days since 1970."""
    return PlaceAir(
        usual=Air(place.air_c, place.rh_pct),
        seasons=tuple((key, Air(c, h)) for key, (c, h) in place.seasons.items()),
        logged=tuple(Spell(a, b, Air(c, h)) for a, b, c, h in place.spells),
    )


def lathe_of(workshop: Workshop, lathe_id: int | None = None) -> core.Lathe:
    """Return a lathe of the workshop as the core sees it: the chosen one, else the main one; 404 if not here."""
    row = get_object_or_404(Lathe, workshop=workshop, id=lathe_id) if lathe_id else workshop.lathes.first()
    if row is None:
        return core.Lathe("A usual lathe (none entered)", 400.0, 50.0, 2500.0)
    steps = tuple(float(s) for s in row.steps.split(",") if s.strip())
    return core.Lathe(row.name, row.swing_mm, row.min_rpm, row.max_rpm, steps, row.mass_kg, row.power_w)


def bench_of(workshop: Workshop) -> core.Bench:
    """Return the workshop as the core sees it."""
    worm = (
        core.WormScrew(pilot_mm=workshop.worm_pilot_mm, length_mm=workshop.worm_length_mm)
        if workshop.worm_pilot_mm and workshop.worm_length_mm
        else None
    )
    way = core.HouseWay(
        rough_wall=workshop.rough_wall,
        second_hold=workshop.second_hold,
        inside=workshop.inside,
        handle=workshop.handle,
        ladder=workshop.ladder,
        finish=workshop.finish,
        home_c=workshop.home_c,
        home_rh_pct=workshop.home_rh_pct,
        finish_room_c=workshop.finish_room_c,
        stop_loss_per_week_pct=workshop.stop_loss_per_week_pct,
    )
    jaws = tuple(
        core.JawSet(j.name, j.tenon_low_mm, j.tenon_high_mm, j.recess_low_mm, j.recess_high_mm, j.depth_mm)
        for j in workshop.jaws.all()
    )
    plates = tuple(
        core.HoldingPlate(p.name, p.kind, p.low_mm, p.high_mm, p.rated_rpm) for p in workshop.plates.all()
    )
    grits = tuple(int(g) for g in workshop.grits.split(",") if g.strip())
    tools = tuple(Tool(t.kind, t.name, t.sizes) for t in workshop.tools.all())
    return core.Bench(lathe_of(workshop), jaws, worm, plates, grits, way, tools)
