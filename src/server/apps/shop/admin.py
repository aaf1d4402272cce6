"""A window onto the shop tables."""

from django.contrib import admin

from server.apps.shop import models


@admin.register(models.Workshop)
class WorkshopAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Workshops."""

    list_display = ["name", "is_demo", "finish"]
    search_fields = ["name"]


admin.site.register([models.Membership, models.Lathe, models.JawSet, models.Plate, models.Place])
