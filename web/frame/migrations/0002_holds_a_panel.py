import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("frame", "0001_initial")]

    operations = [
        migrations.AddConstraint(
            "frame",
            models.CheckConstraint(condition=models.Q(("columns__gte", 1), ("rows__gte", 1)), name="frame_holds_a_panel"),
        ),
        migrations.AlterField(
            "frame",
            "build",
            models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="%(class)s", to="builds.build"),
        ),
    ]
