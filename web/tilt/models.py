"""What the person wants of the tilt plan."""

from django.db import models


class Plan(models.Model):
    """The wish behind the plan. Lists of twelve run January to December."""

    GOALS = [
        ("year", "all year"),
        ("winter", "winter"),
        ("worst-month", "worst month"),
        ("months", "my months"),
        ("demand", "my demand"),
    ]

    build = models.OneToOneField("builds.Build", on_delete=models.CASCADE, related_name="plan")
    goal = models.CharField(max_length=12, choices=GOALS, default="year")
    months = models.JSONField(null=True, blank=True)
    demand = models.JSONField(null=True, blank=True)
    moves = models.PositiveSmallIntegerField(default=2)
    cap = models.JSONField(null=True, blank=True)
    floor = models.JSONField(null=True, blank=True)
    weekdays = models.JSONField(null=True, blank=True)
    slack = models.FloatField(default=0.001)
    tilt_now = models.FloatField(null=True, blank=True)
    minutes_per_move = models.FloatField(default=12.0)
    people = models.PositiveSmallIntegerField(default=1)
    value_of_hour = models.FloatField(default=0.0)
