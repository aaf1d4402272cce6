"""What a workshop is and owns."""

from django.conf import settings
from django.db import models
from django.db.models import F, Q

__all__ = [
    "ClimateReading",
    "JawSet",
    "Lathe",
    "Membership",
    "Place",
    "Plate",
    "Preference",
    "Tool",
    "Workshop",
]


class Workshop(models.Model):
    """A workshop: everything recorded belongs to one. House way included."""

    name = models.CharField(max_length=80)
    is_demo = models.BooleanField(default=False)
    rough_wall = models.CharField(max_length=20, default="tenth", help_text="tenth or computed")
    second_hold = models.CharField(max_length=20, default="tenon", help_text="tenon or recess")
    inside = models.CharField(max_length=20, default="rim-down", help_text="rim-down or centre-out")
    handle = models.CharField(max_length=20, default="four", help_text="four or five times the overhang")
    ladder = models.CharField(max_length=20, default="long", help_text="long or short-paste")
    finish = models.CharField(max_length=40, default="hard-wax-oil")
    home_c = models.FloatField(default=20.0, help_text="where pieces will live, °C")
    home_rh_pct = models.FloatField(default=50.0, help_text="where pieces will live, %")
    finish_room_c = models.FloatField(default=18.0, help_text="where coats dry, °C")
    stop_loss_per_week_pct = models.FloatField(default=0.3, help_text="weight stands still below this")
    worm_pilot_mm = models.FloatField(null=True, blank=True, default=8.0)
    worm_length_mm = models.FloatField(null=True, blank=True, default=35.0)
    scale_url = models.CharField(
        max_length=200, blank=True, help_text="a serial port, or socket://host:port of an adapter"
    )
    meter_url = models.CharField(max_length=200, blank=True, help_text="the same, of the moisture meter")
    meter_corrections = models.JSONField(
        default=dict, blank=True, help_text="what the meter's own sheet adds for a wood, {species: %}"
    )
    grits = models.CharField(max_length=120, default="80,120,180,240,320,400,600")

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """Who works where."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "workshop"], name="member_once")]

    def __str__(self) -> str:
        return f"{self.user} at {self.workshop}"


class Preference(models.Model):
    """How one person reads figures."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    length = models.CharField(max_length=4, default="mm", help_text="mm or in")
    mass = models.CharField(max_length=4, default="g", help_text="g or oz")
    temperature = models.CharField(max_length=4, default="c", help_text="c or f")
    theme = models.CharField(max_length=8, default="light", help_text="light or dim")

    def __str__(self) -> str:
        return f"{self.user}: {self.length}, {self.mass}"


class Lathe(models.Model):
    """A lathe and what it can do."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="lathes")
    name = models.CharField(max_length=60)
    swing_mm = models.FloatField(help_text="largest diameter over the bed, mm")
    min_rpm = models.FloatField(help_text="slowest, rpm")
    max_rpm = models.FloatField(help_text="fastest, rpm")
    steps = models.CharField(max_length=120, blank=True, help_text="pulley speeds, comma separated")
    mass_kg = models.FloatField(null=True, blank=True, help_text="its own mass, kg")
    power_w = models.FloatField(null=True, blank=True, help_text="its motor, W")
    is_main = models.BooleanField(default=False)

    class Meta:
        ordering = ["-is_main", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "name"],
                name="lathe_name_once",
                violation_error_message="There is already a lathe of that name.",
            ),
            models.CheckConstraint(
                condition=Q(min_rpm__lt=F("max_rpm")),
                name="lathe_range",
                violation_error_message="The slowest speed must lie below the fastest.",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class JawSet(models.Model):
    """Chuck jaws."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="jaws")
    name = models.CharField(max_length=60)
    tenon_low_mm = models.FloatField()
    tenon_high_mm = models.FloatField()
    recess_low_mm = models.FloatField()
    recess_high_mm = models.FloatField()
    depth_mm = models.FloatField()

    class Meta:
        ordering = ["tenon_low_mm"]

    def __str__(self) -> str:
        return self.name


class Plate(models.Model):
    """A faceplate, expanding jaws or a reversing plate."""

    KINDS = [
        ("faceplate", "Faceplate"),
        ("expanding-jaws", "Expanding jaws"),
        ("reversing-plate", "Two-disc reversing plate"),
    ]
    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="plates")
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=20, choices=KINDS)
    low_mm = models.FloatField(help_text="smallest it takes; a faceplate's own diameter")
    high_mm = models.FloatField(help_text="largest it takes")
    rated_rpm = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["kind", "low_mm"]

    def __str__(self) -> str:
        return self.name


class Tool(models.Model):
    """Anything else that is measured: knives, bars, steadies, collets, screws; kinds are the core's."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="tools")
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=60)
    sizes = models.JSONField(default=dict, help_text="{measure: value}, names end in their unit")

    class Meta:
        ordering = ["kind", "name"]
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "kind", "name"],
                name="tool_name_once",
                violation_error_message="There is already one of that name.",
            )
        ]

    def __str__(self) -> str:
        return self.name


class Place(models.Model):
    """Where pieces lie, and its air."""

    workshop = models.ForeignKey(Workshop, on_delete=models.CASCADE, related_name="places")
    name = models.CharField(max_length=60)
    air_c = models.FloatField(help_text="its usual air, °C")
    rh_pct = models.FloatField(help_text="its usual air, %")
    seasons = models.JSONField(default=dict, blank=True, help_text="{season: [°C, %]} where typed")
    spells = models.JSONField(
        default=list, blank=True, help_text="[[from, to, °C, %]], days since 1970, of the readings"
    )
    climate_stamp = models.CharField(max_length=16, blank=True, help_text="changes when its air does")
    logger_url = models.CharField(max_length=200, blank=True, help_text="where its logger answers")

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["workshop", "name"],
                name="place_name_once",
                violation_error_message="There is already a place of that name.",
            )
        ]

    def __str__(self) -> str:
        return self.name


class ClimateReading(models.Model):
    """One reading of a place's air; the same moment is kept once."""

    place = models.ForeignKey(Place, on_delete=models.CASCADE, related_name="readings")
    at = models.DateTimeField()
    air_c = models.FloatField(help_text="°C")
    rh_pct = models.FloatField(help_text="%")

    class Meta:
        ordering = ["at"]
        constraints = [models.UniqueConstraint(fields=["place", "at"], name="reading_once")]

    def __str__(self) -> str:
        return f"{self.place} at {self.at}"
