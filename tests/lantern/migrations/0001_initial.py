import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [("builds", "0003_take_over_from_the_stations")]

    operations = [
        migrations.CreateModel(
            name="Lantern",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("power", models.FloatField(default=5.0)),
                ("note", models.CharField(blank=True, max_length=40)),
                (
                    "build",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="%(class)s", to="builds.build"
                    ),
                ),
            ],
            options={"abstract": False},
        ),
    ]
