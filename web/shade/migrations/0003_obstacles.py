import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shade", "0002_a_yard_for_every_build"), ("builds", "0003_take_over_from_the_stations")]

    operations = [
        migrations.RemoveField("yard", "open_sky"),
        migrations.RenameField("yard", "objects_held", "obstacles"),
        migrations.AlterField(
            "yard",
            "build",
            models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="%(class)s", to="builds.build"),
        ),
    ]
