import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("tilt", "0001_initial")]

    operations = [
        migrations.RenameField("plan", "moves", "settings"),
        migrations.AddConstraint(
            "plan",
            models.CheckConstraint(
                condition=models.Q(("settings__gte", 1), ("settings__lte", 12)), name="plan_of_1_to_12_settings"
            ),
        ),
        migrations.AlterField(
            "plan",
            "build",
            models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="%(class)s", to="builds.build"),
        ),
    ]
