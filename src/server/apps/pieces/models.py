"""Pieces, the stages of their routes, coats, and what happened."""

from django.conf import settings
from django.db import models

from server.apps.shop.models import Workshop
from server.apps.yard.models import Blank, Log

__all__ = ["Coat", "Event", "Piece", "Stage"]


class Piece(models.Model):
    """A tagged bit of wood on its way."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="pieces")
    tag = models.CharField(max_length=12)
    name = models.CharField(max_length=80, blank=True)
    log = models.ForeignKey(Log, null=True, blank=True, on_delete=models.SET_NULL, related_name="pieces")
    blank = models.ForeignKey(Blank, null=True, blank=True, on_delete=models.SET_NULL, related_name="pieces")
    parent = models.ForeignKey(
        "self",
        null=True,
        blank=True,
        on_delete=models.SET_NULL,
        related_name="parts",
        help_text="the piece it was cut from",
    )
    species = models.CharField(max_length=40)
    form = models.CharField(max_length=30)
    way = models.CharField(max_length=30)
    state = models.CharField(max_length=12)
    diameter_mm = models.FloatField(help_text="blank, mm")
    height_mm = models.FloatField(help_text="blank, mm")
    finish_diameter_mm = models.FloatField(help_text="wanted, mm")
    finish_wall_mm = models.FloatField(help_text="wanted, mm")
    purpose = models.CharField(max_length=12, default="food")
    conditions = models.CharField(max_length=60, blank=True, help_text="barky,cracked,punky")
    pith_mm = models.FloatField(null=True, blank=True, help_text="rim plane to pith, mm")
    design = models.JSONField(default=dict, blank=True, help_text="its own form from the shape bench")
    begun_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True, blank=True)
    became = models.CharField(max_length=12, blank=True, help_text="split, where it became other pieces")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "tag"],
                name="tag_once",
                violation_error_message="That tag is on another piece already.",
            )
        ]

    def __str__(self) -> str:
        return f"piece {self.tag}"


class Stage(models.Model):
    """One stage of a piece's route; ``notes`` holds what was noted, checked by the core."""

    STATES = [("waiting", "waiting"), ("active", "active"), ("done", "done")]
    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="stages")
    position = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=20)
    state = models.CharField(max_length=10, choices=STATES, default="waiting")
    notes = models.JSONField(default=dict, blank=True)
    done_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["piece", "position"], name="stage_order")]

    def __str__(self) -> str:
        return f"{self.kind} of {self.piece}"


class Coat(models.Model):
    """A coat that was given."""

    stage = models.ForeignKey(Stage, on_delete=models.CASCADE, related_name="coats")
    number = models.PositiveSmallIntegerField()
    what = models.CharField(max_length=80)
    given_at = models.DateTimeField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["stage", "number"], name="coat_once")]

    def __str__(self) -> str:
        return f"coat {self.number} on {self.stage.piece}"


class Event(models.Model):
    """Something that happened to a piece; never changed afterwards."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="events")
    at = models.DateTimeField()
    verb = models.CharField(max_length=30)
    words = models.CharField(max_length=300, blank=True)
    data = models.JSONField(default=dict, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.verb} {self.piece}"
