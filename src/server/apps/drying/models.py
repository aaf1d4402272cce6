"""Drying runs: where a piece lay, what it weighed, and what was forecast from it."""

from django.conf import settings
from django.db import models

from server.apps.pieces.models import Piece
from server.apps.shop.models import Place, Workshop

__all__ = ["DryingRun", "Go", "MeterReading", "PlanStep", "Stay", "StoredForecast", "TurnedAgain", "WeighIn"]


class DryingRun(models.Model):
    """One time of drying: sizes as measured when it began."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="runs")
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True, blank=True)
    diameter_mm = models.FloatField(null=True, blank=True)
    wall_mm = models.FloatField(null=True, blank=True)
    height_mm = models.FloatField(null=True, blank=True)
    bottom_mm = models.FloatField(null=True, blank=True)
    brings = models.JSONField(
        default=dict,
        blank=True,
        help_text="what a part cut from a drying piece brings: mc_pct, spread, ln_k, profile",
    )
    control_of = models.ForeignKey(
        "self",
        null=True,
        blank=True,
        on_delete=models.SET_NULL,
        related_name="controls",
        help_text="the run this one is the open-air control of",
    )

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


class MeterReading(models.Model):
    """What a moisture meter showed, and what that means for its wood."""

    run = models.ForeignKey(DryingRun, on_delete=models.CASCADE, related_name="meter_readings")
    key = models.UUIDField()
    at = models.DateTimeField()
    shown_pct = models.FloatField(help_text="as the meter showed it, %")
    mc_pct = models.FloatField(help_text="corrected for the wood, %")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.UniqueConstraint(fields=["run", "key"], name="meter_reading_once")]

    def __str__(self) -> str:
        return f"{self.mc_pct} %, {self.run}"


class Go(models.Model):
    """One go in the microwave oven; ``after_g`` comes once it is cold."""

    run = models.ForeignKey(DryingRun, on_delete=models.CASCADE, related_name="goes")
    key = models.UUIDField()
    at = models.DateTimeField()
    power_w = models.FloatField(help_text="W")
    seconds = models.FloatField(help_text="s")
    before_g = models.FloatField(help_text="g")
    after_g = models.FloatField(null=True, blank=True, help_text="g, once cold")

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.UniqueConstraint(fields=["run", "key"], name="go_once")]

    def __str__(self) -> str:
        return f"{self.seconds} s, {self.run}"


class TurnedAgain(models.Model):
    """Turned again while drying: its mass jumped, its wall is another."""

    run = models.ForeignKey(DryingRun, on_delete=models.CASCADE, related_name="turnings")
    at = models.DateTimeField()
    wall_mm = models.FloatField(help_text="mm")
    bottom_mm = models.FloatField(help_text="mm")
    before_g = models.FloatField(help_text="g")
    after_g = models.FloatField(help_text="g")

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"turned again, {self.run}"


class PlanStep(models.Model):
    """One thing a chosen way of drying asks for, at a date."""

    run = models.ForeignKey(DryingRun, on_delete=models.CASCADE, related_name="steps")
    due_at = models.DateTimeField()
    kind = models.CharField(max_length=12)
    wrap = models.CharField(max_length=20, blank=True)
    ends_sealed = models.BooleanField(default=False)
    words = models.JSONField(help_text="a sentence with its numbers")
    way = models.CharField(max_length=20)
    done_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["due_at", "id"]

    def __str__(self) -> str:
        return f"{self.kind}, {self.run}"
