"""A window onto the pieces tables."""

from django.contrib import admin

from server.apps.pieces import models


@admin.register(models.Piece)
class PieceAdmin(admin.ModelAdmin):  # type: ignore[type-arg]
    """Pieces."""

    list_display = ["tag", "name", "species", "way", "workshop"]
    search_fields = ["tag", "name"]


admin.site.register([models.Stage, models.Event])
