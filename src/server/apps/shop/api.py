"""Sign-in and the shop over HTTP."""

from dataclasses import asdict
from datetime import UTC, datetime

from django.conf import settings
from django.contrib.auth import authenticate, get_user_model, login, logout
from django.db.models import Count, Max, Min
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Path, Router, Status
from ninja.utils import check_csrf

from kilncore.drying.climate import SEASONS
from kilncore.drying.model import WRAPS
from kilncore.equipment import KINDS
from kilncore.errors import Impossible
from kilncore.rules.finish import all_finishes
from kilncore.wood.emc import emc_pct
from server.api.problems import PROBLEMS, Problem
from server.apps.shop import climate, schemas, services
from server.apps.shop.models import JawSet, Lathe, Place, Plate, Tool, Workshop
from server.apps.shop.queries import place_of, preference_of, workshop_of

account = Router(tags=["account"])
router = Router(tags=["shop"])
IdPath = Path(..., ge=1, le=2**53)


def require_csrf(request: HttpRequest) -> None:
    """Check the token on routes that are open to strangers."""
    if check_csrf(request):
        raise Impossible("stale-page", "", "This page is stale; load it again.")


def me_of(request: HttpRequest) -> schemas.Me:
    """Return who is signed in."""
    accounts = get_user_model().objects.exclude(membership__workshop__is_demo=True)
    door = {"demo_door": settings.DEMO, "has_accounts": accounts.exists()}
    if not request.user.is_authenticated:
        return schemas.Me(signed_in=False, **door)
    preference = preference_of(request.user)
    workshop = Workshop.objects.filter(membership__user=request.user).first()
    return schemas.Me(
        signed_in=True,
        name=request.user.get_username(),
        workshop=workshop.name if workshop else "",
        is_demo=bool(workshop and workshop.is_demo),
        length=preference.length,
        mass=preference.mass,
        temperature=preference.temperature,
        theme=preference.theme,
        **door,
    )


@account.get("/me", auth=None, response={200: schemas.Me}, operation_id="me", summary="Who is signed in")
def me(request: HttpRequest):
    """Say who is signed in; open to strangers."""
    return me_of(request)


@account.post(
    "/sign-in",
    auth=None,
    response={200: schemas.Me, 429: Problem, **PROBLEMS},
    operation_id="sign_in",
    summary="Sign in",
)
def sign_in(request: HttpRequest, data: schemas.SignIn):
    """Sign in by name and password."""
    require_csrf(request)
    user = authenticate(request, username=data.username, password=data.password)
    if user is None:
        raise Impossible("wrong-password", "password", "That name and password do not belong together.")
    login(request, user)
    return me_of(request)


@account.post("/sign-out", response={204: None, **PROBLEMS}, operation_id="sign_out", summary="Sign out")
def sign_out(request: HttpRequest):
    """End the session."""
    logout(request)
    return Status(204, None)


@account.patch(
    "/me", response={200: schemas.Me, **PROBLEMS}, operation_id="prefer", summary="Units and light"
)
def prefer(request: HttpRequest, data: schemas.PreferenceIn):
    """Change how figures are read."""
    services.save_preference(request.user, data.model_dump(exclude_none=True))
    return me_of(request)


def place_out(place: Place) -> schemas.PlaceOut:
    """Return a place with the moisture its air asks for."""
    return schemas.PlaceOut(
        id=place.id,
        name=place.name,
        air_c=place.air_c,
        rh_pct=place.rh_pct,
        emc_pct=round(emc_pct(place.air_c, rh_pct=place.rh_pct), 1),
        seasons=place.seasons,
        logger_url=place.logger_url,
        logged=bool(place.spells),
    )


def climate_out(place: Place, *, new: int = 0) -> schemas.ClimateOut:
    """Return what is known of a place's air."""
    ends = place.readings.aggregate(first=Min("at"), last=Max("at"), count=Count("id"))
    spells = [
        schemas.AirSpell(
            start=datetime.fromtimestamp(a * 86400.0, UTC), end=datetime.fromtimestamp(b * 86400.0, UTC),
            air_c=c, rh_pct=h, emc_pct=round(emc_pct(c, rh_pct=h), 1),
        )
        for a, b, c, h in place.spells
    ]  # fmt: skip
    return schemas.ClimateOut(
        spells=spells, readings=ends["count"], first_at=ends["first"], last_at=ends["last"], new=new
    )


@router.get("", response={200: schemas.ShopOut, **PROBLEMS}, operation_id="shop", summary="The whole shop")
def shop(request: HttpRequest):
    """Everything the workshop owns, and its house way."""
    workshop = workshop_of(request)
    return schemas.ShopOut(
        name=workshop.name,
        way=schemas.WayOut.from_orm(workshop),
        lathes=[schemas.LatheOut.from_orm(r) for r in workshop.lathes.all()],
        jaws=[schemas.JawOut.from_orm(r) for r in workshop.jaws.all()],
        plates=[schemas.PlateOut.from_orm(r) for r in workshop.plates.all()],
        tools=[schemas.ToolOut.from_orm(r) for r in workshop.tools.all()],
        tool_kinds=list(KINDS.values()),
        places=[place_out(p) for p in workshop.places.all()],
        worm_pilot_mm=workshop.worm_pilot_mm,
        worm_length_mm=workshop.worm_length_mm,
        finishes=[schemas.Choice(key=f.key, label=f.label, note=f.food) for f in all_finishes().values()],
        wraps=[schemas.Choice(key=w.key, label=w.label, note=w.helps) for w in WRAPS.values()],
        seasons=[schemas.Choice(key=key, label=key) for key in SEASONS],
        instruments=schemas.InstrumentsOut.from_orm(workshop),
    )


@router.patch(
    "/way", response={200: schemas.WayOut, **PROBLEMS}, operation_id="save_way", summary="House way"
)
def save_way(request: HttpRequest, data: schemas.WayIn):
    """Change the house way."""
    return services.save_way(workshop_of(request), data.model_dump(exclude_none=True))


@router.post(
    "/places", response={201: schemas.PlaceOut, **PROBLEMS}, operation_id="add_place", summary="Add a place"
)
def add_place(request: HttpRequest, data: schemas.PlaceIn):
    """Add a place."""
    return Status(201, place_out(services.save_place(workshop_of(request), **data.model_dump())))


@router.put(
    "/places/{place_id}",
    response={200: schemas.PlaceOut, **PROBLEMS},
    operation_id="save_place",
    summary="Change a place",
)
def save_place(request: HttpRequest, data: schemas.PlaceIn, place_id: int = IdPath):
    """Change a place's name or air."""
    workshop = workshop_of(request)
    place = place_of(workshop, place_id)
    return place_out(services.save_place(workshop, place=place, **data.model_dump()))


@router.patch(
    "/instruments",
    response={200: schemas.InstrumentsOut, **PROBLEMS},
    operation_id="save_instruments",
    summary="Where scale and meter are",
)
def save_instruments(request: HttpRequest, data: schemas.InstrumentsIn):
    """Say where scale and meter are."""
    return services.save_instruments(workshop_of(request), data.model_dump(exclude_none=True))


@router.get(
    "/places/{place_id}/climate",
    response={200: schemas.ClimateOut, **PROBLEMS},
    operation_id="climate",
    summary="A place's air",
)
def climate_of(request: HttpRequest, place_id: int = IdPath):
    """Return the air of a place as it was logged."""
    return climate_out(place_of(workshop_of(request), place_id))


@router.post(
    "/places/{place_id}/climate/read",
    response={200: schemas.ClimateOut, **PROBLEMS},
    operation_id="read_climate",
    summary="Read the logger",
)
def read_climate(request: HttpRequest, place_id: int = IdPath):
    """Read a place's logger and keep what is new."""
    place = place_of(workshop_of(request), place_id)
    return climate_out(place, new=climate.read_place(place))


@router.get(
    "/places/{place_id}/climate.csv",
    response={200: str, **PROBLEMS},
    operation_id="climate_csv",
    summary="A place's air as CSV",
)
def climate_csv(request: HttpRequest, place_id: int = IdPath):
    """Return every reading of a place."""
    place = place_of(workshop_of(request), place_id)
    answer = HttpResponse(climate.climate_csv(place), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="air.csv"'
    return answer


@router.post(
    "/places/{place_id}/climate/table",
    response={200: schemas.AirTableOut, **PROBLEMS},
    operation_id="import_air",
    summary="Air from a table",
)
def import_air(request: HttpRequest, data: schemas.AirTableIn, place_id: int = IdPath):
    """Look at a table of air, or keep it: all rows or none."""
    place = place_of(workshop_of(request), place_id)
    found = climate.import_air(
        place, text=data.text, mapping=data.mapping, unit=data.unit, keep=data.keep, now=timezone.now()
    )
    first = sorted(found.rows, key=lambda r: (r["fate"] != "wrong", r["line"]))
    return asdict(found) | {
        "rows": first[:200],
        "more": max(0, len(first) - 200),
        "columns": [{"key": c.key, "label": c.label, "required": c.required} for c in climate.AIR_COLUMNS],
    }


@router.put(
    "/lathes/{lathe_id}",
    response={200: schemas.LatheOut, **PROBLEMS},
    operation_id="save_lathe",
    summary="Change a lathe",
)
def save_lathe(request: HttpRequest, data: schemas.LatheIn, lathe_id: int = IdPath):
    """Change a lathe's range or swing."""
    workshop = workshop_of(request)
    lathe = get_object_or_404(Lathe, workshop=workshop, id=lathe_id)
    return services.save_lathe(workshop, lathe=lathe, **data.model_dump())


@router.post(
    "/lathes", response={201: schemas.LatheOut, **PROBLEMS}, operation_id="add_lathe", summary="Add a lathe"
)
def add_lathe(request: HttpRequest, data: schemas.LatheIn):
    """Add a lathe."""
    return Status(201, services.save_lathe(workshop_of(request), **data.model_dump()))


@router.post("/jaws", response={201: schemas.JawOut, **PROBLEMS}, operation_id="add_jaws", summary="Add jaws")
def add_jaws(request: HttpRequest, data: schemas.JawIn):
    """Add a jaw set."""
    return Status(201, services.save_jaws(workshop_of(request), **data.model_dump()))


@router.put(
    "/jaws/{jaws_id}",
    response={200: schemas.JawOut, **PROBLEMS},
    operation_id="save_jaws",
    summary="Change jaws",
)
def save_jaws(request: HttpRequest, data: schemas.JawIn, jaws_id: int = IdPath):
    """Change a jaw set's ranges."""
    workshop = workshop_of(request)
    jaws = get_object_or_404(JawSet, workshop=workshop, id=jaws_id)
    return services.save_jaws(workshop, jaws=jaws, **data.model_dump())


@router.delete(
    "/jaws/{jaws_id}", response={204: None, **PROBLEMS}, operation_id="remove_jaws", summary="Remove jaws"
)
def remove_jaws(request: HttpRequest, jaws_id: int = IdPath):
    """Remove a jaw set."""
    services.remove_tool(get_object_or_404(JawSet, workshop=workshop_of(request), id=jaws_id))
    return Status(204, None)


@router.post(
    "/plates", response={201: schemas.PlateOut, **PROBLEMS}, operation_id="add_plate", summary="Add a plate"
)
def add_plate(request: HttpRequest, data: schemas.PlateIn):
    """Add a plate."""
    return Status(201, services.save_plate(workshop_of(request), **data.model_dump()))


@router.put(
    "/plates/{plate_id}",
    response={200: schemas.PlateOut, **PROBLEMS},
    operation_id="save_plate",
    summary="Change a plate",
)
def save_plate(request: HttpRequest, data: schemas.PlateIn, plate_id: int = IdPath):
    """Change a plate's range or rating."""
    workshop = workshop_of(request)
    plate = get_object_or_404(Plate, workshop=workshop, id=plate_id)
    return services.save_plate(workshop, plate=plate, **data.model_dump())


@router.delete(
    "/plates/{plate_id}",
    response={204: None, **PROBLEMS},
    operation_id="remove_plate",
    summary="Remove a plate",
)
def remove_plate(request: HttpRequest, plate_id: int = IdPath):
    """Remove a plate."""
    services.remove_tool(get_object_or_404(Plate, workshop=workshop_of(request), id=plate_id))
    return Status(204, None)


@router.post(
    "/tools", response={201: schemas.ToolOut, **PROBLEMS}, operation_id="add_tool", summary="Add a tool"
)
def add_tool(request: HttpRequest, data: schemas.ToolIn):
    """Add a knife, bar, steady, collet or box of screws."""
    return Status(201, services.save_tool(workshop_of(request), **data.model_dump()))


@router.put(
    "/tools/{tool_id}",
    response={200: schemas.ToolOut, **PROBLEMS},
    operation_id="save_tool",
    summary="Change a tool",
)
def save_tool(request: HttpRequest, data: schemas.ToolIn, tool_id: int = IdPath):
    """Change a tool's figures."""
    workshop = workshop_of(request)
    tool = get_object_or_404(Tool, workshop=workshop, id=tool_id)
    return services.save_tool(workshop, tool=tool, **data.model_dump())


@router.delete(
    "/tools/{tool_id}", response={204: None, **PROBLEMS}, operation_id="remove_tool", summary="Remove a tool"
)
def remove_tool(request: HttpRequest, tool_id: int = IdPath):
    """Take a tool off the wall."""
    services.remove_tool(get_object_or_404(Tool, workshop=workshop_of(request), id=tool_id))
    return Status(204, None)
