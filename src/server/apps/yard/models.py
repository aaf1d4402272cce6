"""Logs as they came in."""

from django.db import models

from server.apps.shop.models import Workshop

__all__ = ["Log"]


class Log(models.Model):
    """A log in the yard; anything but number and species may be unknown."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="logs")
    number = models.PositiveIntegerField()
    species = models.CharField(max_length=40)
    origin = models.CharField(max_length=120, blank=True)
    felled_on = models.DateField(null=True, blank=True)
    length_mm = models.FloatField(null=True, blank=True)
    diameter_mm = models.FloatField(null=True, blank=True, help_text="mean of both ends, under bark, mm")
    pith_offset_mm = models.FloatField(null=True, blank=True, help_text="pith off the middle, mm")
    cracked = models.BooleanField(default=False)
    ends_sealed = models.BooleanField(default=False)
    lies_at = models.CharField(max_length=80, blank=True)
    note = models.CharField(max_length=400, blank=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="log_number_once")]

    def __str__(self) -> str:
        return f"log {self.number}"
