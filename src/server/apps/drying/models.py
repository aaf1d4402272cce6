"""Drying runs: where a piece lay, what it weighed, and what was forecast from it."""

from django.conf import settings
from django.db import models

from server.apps.pieces.models import Piece
from server.apps.shop.models import Place, Workshop

__all__ = ["DryingRun", "Stay", "StoredForecast", "WeighIn"]


class DryingRun(models.Model):
    """One time of drying: sizes as measured when it began."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="runs")
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True, blank=True)
    diameter_mm = models.FloatField(null=True, blank=True)
    wall_mm = models.FloatField(null=True, blank=True)
    height_mm = models.FloatField(null=True, blank=True)
    bottom_mm = models.FloatField(null=True, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["piece"], condition=models.Q(ended_at__isnull=True), name="one_open_run"
            )
        ]

    def __str__(self) -> str:
        return f"drying of {self.piece}"


class Stay(models.Model):
    """From when on it lay where, in what."""

    run = models.ForeignKey(DryingRun, on_delete=models.CASCADE, related_name="stays")
    place = models.ForeignKey(Place, on_delete=models.PROTECT)
    wrap = models.CharField(max_length=20)
    ends_sealed = models.BooleanField(default=False)
    started_at = models.DateTimeField()

    class Meta:
        ordering = ["started_at", "id"]

    def __str__(self) -> str:
        return f"{self.run} at {self.place}"


class WeighIn(models.Model):
    """A weight as it was given; corrected by another row, never overwritten.

    ``key`` comes from the sender: the same key is stored once.
    """

    STATES = [("accepted", "counts"), ("questioned", "waits for an answer"), ("corrected", "replaced")]
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE)
    run = models.ForeignKey(DryingRun, on_delete=models.CASCADE, related_name="weigh_ins")
    key = models.UUIDField()
    at = models.DateTimeField()
    mass_g = models.FloatField(help_text="g")
    typed = models.CharField(max_length=40, blank=True, help_text="as it was typed")
    state = models.CharField(max_length=12, choices=STATES, default="accepted")
    question = models.JSONField(default=dict, blank=True)
    corrects = models.OneToOneField(
        "self", null=True, blank=True, on_delete=models.CASCADE, related_name="corrected_by"
    )
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.UniqueConstraint(fields=["workshop", "key"], name="weigh_in_once")]

    def __str__(self) -> str:
        return f"{self.mass_g} g, {self.run}"


class StoredForecast(models.Model):
    """A forecast and the fingerprint of what it was computed from."""

    run = models.OneToOneField(DryingRun, on_delete=models.CASCADE, related_name="forecast")
    fingerprint = models.CharField(max_length=64)
    computed_at = models.DateTimeField()
    data = models.JSONField()

    def __str__(self) -> str:
        return f"forecast for {self.run}"
