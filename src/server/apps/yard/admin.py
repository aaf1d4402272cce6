"""A window onto the yard tables."""

from django.contrib import admin

from server.apps.yard import models


@admin.register(models.Log)
class LogAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Logs."""

    list_display = ["number", "species", "workshop", "felled_on"]
    search_fields = ["species", "origin"]


@admin.register(models.Blank)
class BlankAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Blanks."""

    list_display = ["log", "number", "cut", "diameter_mm", "height_mm", "state"]
