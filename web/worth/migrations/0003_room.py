"""For how many more panels there is room."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("worth", "0002_economics"),
    ]

    operations = [
        migrations.AddField(
            model_name="economics",
            name="room",
            field=models.PositiveSmallIntegerField(blank=True, null=True),
        ),
    ]
