"""Addresses: the API, health, admin, and the web app for everything else."""

from django.conf import settings
from django.contrib import admin
from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from server.config.mount import api

_NOT_BUILT = "The screens are not built yet: run `make demo`."


def healthz(request: HttpRequest) -> JsonResponse:
    """Say whether the server and its database answer."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
        cursor.fetchone()
    return JsonResponse({"ok": True})


@ensure_csrf_cookie
def screens(request: HttpRequest) -> HttpResponse:
    """Serve the web app's one page."""
    page = settings.WEB_DIST / "index.html"
    if not page.exists():
        return HttpResponse(_NOT_BUILT, status=503, content_type="text/plain")
    response = HttpResponse(page.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


urlpatterns = [
    path("healthz", healthz),
    path("api/", api.urls),
    path("admin/", admin.site.urls),
    re_path(r"^(?!api/|static/).*$", screens),
]
