"""A window onto the drying tables."""

from django.contrib import admin

from server.apps.drying import models


@admin.register(models.WeighIn)
class WeighInAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Weights."""

    list_display = ["run", "at", "mass_g", "state"]


admin.site.register([models.DryingRun, models.Stay])
