import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("place", "0002_remove_place_horizon"), ("builds", "0003_take_over_from_the_stations")]

    operations = [
        migrations.RemoveField("place", "units"),
        migrations.AddConstraint(
            "place",
            models.CheckConstraint(
                condition=models.Q(("latitude__gt", -90), ("latitude__lt", 90)), name="place_between_the_poles"
            ),
        ),
        migrations.AddConstraint(
            "place",
            models.CheckConstraint(
                condition=models.Q(("longitude__gte", -180), ("longitude__lte", 180)), name="place_on_the_round"
            ),
        ),
        migrations.AlterField(
            "place",
            "build",
            models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="%(class)s", to="builds.build"),
        ),
    ]
