"""Units, currency and the open sky belong to the build, not to a station; results take the field's word."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("builds", "0001_initial")]

    operations = [
        migrations.AddField(
            "build",
            "units",
            models.CharField(choices=[("metric", "metric"), ("us", "feet and inches")], default="metric", max_length=8),
        ),
        migrations.AddField("build", "currency", models.CharField(default="€", max_length=4)),
        migrations.AddField("build", "open_sky", models.BooleanField(default=False)),
        migrations.AddConstraint(
            "build",
            models.CheckConstraint(condition=models.Q(("chosen_day__lt", 365)), name="chosen_day_in_the_year"),
        ),
        migrations.RenameModel("Answer", "StoredResult"),
        migrations.AlterField(
            "storedresult",
            "build",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="results", to="builds.build"),
        ),
        migrations.AlterField("storedresult", "kind", models.CharField(max_length=24)),
        migrations.AddConstraint(
            "storedresult", models.UniqueConstraint(fields=("build", "kind", "digest"), name="one_result_a_digest")
        ),
        migrations.RemoveConstraint("storedresult", "one_answer_a_digest"),
    ]
