"""Logs as they came in."""

from django.db import models
from django.db.models import Q

from server.apps.shop.models import Workshop

__all__ = ["Blank", "Log", "LogPhoto"]


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
    tried = models.JSONField(
        default=dict, blank=True, help_text="signs tried to tell the wood, {sign: answer}"
    )
    large_wide_mm = models.FloatField(null=True, blank=True, help_text="large end over bark, mm")
    large_tall_mm = models.FloatField(null=True, blank=True)
    small_wide_mm = models.FloatField(null=True, blank=True, help_text="small end over bark, mm")
    small_tall_mm = models.FloatField(null=True, blank=True)
    bark_mm = models.FloatField(null=True, blank=True, help_text="thickness of the bark, mm")
    pith_angle_deg = models.FloatField(default=90.0, help_text="from the right, towards the top")
    pith_small_offset_mm = models.FloatField(null=True, blank=True)
    pith_small_angle_deg = models.FloatField(null=True, blank=True)
    rot = models.BooleanField(default=False)
    insects = models.BooleanField(default=False)
    nails = models.BooleanField(default=False)
    sealed_on = models.DateField(null=True, blank=True)
    trim_start_mm = models.FloatField(default=30.0, help_text="checked end at the large end, mm")
    trim_end_mm = models.FloatField(default=30.0)
    plan = models.JSONField(default=dict, blank=True, help_text="saw and spots of the turner's own layout")
    gone_on = models.DateField(null=True, blank=True, help_text="used up, given away, burnt")

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["workshop", "number"], name="log_number_once")]

    def __str__(self) -> str:
        return f"log {self.number}"


class LogPhoto(models.Model):
    """A picture of a log, made small and without where it was taken."""

    log = models.ForeignKey(Log, on_delete=models.CASCADE, related_name="photos")
    name = models.CharField(max_length=60, help_text="file in the data folder")
    added_at = models.DateTimeField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()

    class Meta:
        ordering = ["added_at", "id"]

    def __str__(self) -> str:
        return f"picture of {self.log}"


class Blank(models.Model):
    """A blank cut, or to be cut, from a log; ``spot`` is where it lay in it."""

    STATES = [("cut", "cut"), ("gone", "gone")]
    log = models.ForeignKey(Log, on_delete=models.CASCADE, related_name="blanks")
    number = models.PositiveSmallIntegerField()
    cut = models.CharField(max_length=20)
    form = models.CharField(max_length=30)
    spot = models.JSONField()
    end = models.JSONField(help_text="outline at the log's end, mm from the middle")
    diameter_mm = models.FloatField()
    height_mm = models.FloatField()
    pith_mm = models.FloatField()
    holds_pith = models.BooleanField()
    start_mm = models.FloatField()
    length_mm = models.FloatField()
    volume_cm3 = models.FloatField()
    state = models.CharField(max_length=6, choices=STATES, default="cut")
    cut_at = models.DateTimeField()

    class Meta:
        ordering = ["log_id", "number"]
        constraints = [
            models.UniqueConstraint(fields=["log", "number"], name="blank_number_once"),
            models.CheckConstraint(condition=Q(diameter_mm__gt=0), name="blank_has_width"),
        ]

    def __str__(self) -> str:
        return f"blank {self.number} of {self.log}"
