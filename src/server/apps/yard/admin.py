"""A window onto the yard tables."""

from django.contrib import admin

from server.apps.yard import models


@admin.register(models.Log)
class LogAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Logs."""

    list_display = ["number", "species", "workshop", "felled_on"]
    search_fields = ["species", "origin"]
