"""The demo's door."""

from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.http import Http404, HttpRequest
from ninja import Router

from server.api.problems import PROBLEMS
from server.apps.demo.services import DEMO_USER
from server.apps.shop.api import me_of, require_csrf
from server.apps.shop.schemas import Me

router = Router(tags=["demo"])


@router.post(
    "/enter", auth=None, response={200: Me, **PROBLEMS}, operation_id="enter_demo", summary="Enter the demo"
)
def enter_demo(request: HttpRequest):
    """Sign in to the demo workshop; only where the server was started for it."""
    require_csrf(request)
    user = get_user_model().objects.filter(username=DEMO_USER).first()
    if not settings.DEMO or user is None:
        raise Http404("no demo here")
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return me_of(request)
