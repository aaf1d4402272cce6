"""What is drawn and measured at the lathe."""

from django.conf import settings
from django.db import models
from django.db.models import Q

from server.apps.pieces.models import Piece
from server.apps.shop.models import Workshop

__all__ = ["CalliperReading", "Sketch", "SpeedUse"]


class Sketch(models.Model):
    """A form of the workshop's own, kept under a name."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="sketches")
    name = models.CharField(max_length=60)
    design = models.JSONField(help_text="handles, wall, foot")
    kept_at = models.DateTimeField()

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["workshop", "name"], name="sketch_name_once")]

    def __str__(self) -> str:
        return self.name


class CalliperReading(models.Model):
    """A wall read by calliper at a height above the foot."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="callipers")
    z_mm = models.FloatField(help_text="above the foot, mm")
    wall_mm = models.FloatField(help_text="read, mm")
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["-z_mm", "at"]
        constraints = [
            models.CheckConstraint(
                condition=Q(wall_mm__gt=0),
                name="calliper_positive",
                violation_error_message="A wall is more than nothing.",
            )
        ]

    def __str__(self) -> str:
        return f"{self.wall_mm} mm at {self.z_mm} of {self.piece}"


class SpeedUse(models.Model):
    """A speed that was used, and how it felt."""

    FELT = [("calm", "calm"), ("hums", "hums"), ("chatters", "chatters"), ("sketchy", "felt wrong")]
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="speeds")
    piece = models.ForeignKey(Piece, null=True, blank=True, on_delete=models.SET_NULL, related_name="speeds")
    stage = models.CharField(max_length=12, help_text="kind of work at the lathe")
    swing_mm = models.FloatField(help_text="mm")
    speed_rpm = models.FloatField(help_text="rpm")
    felt = models.CharField(max_length=10, choices=FELT, default="calm")
    words = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-id"]

    def __str__(self) -> str:
        return f"{self.speed_rpm} rpm, {self.stage}"
