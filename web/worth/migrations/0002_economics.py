"""The economics by their name; one option a row."""

import django.db.models.deletion
from django.db import migrations, models


def one_a_row(apps, schema_editor):
    """Rows of the person's own have no standard row; of a standard row the newest option stays."""
    Option = apps.get_model("worth", "Option")
    Option.objects.filter(row="").update(row=None)
    seen = set()
    for pk, build, row in Option.objects.exclude(row=None).order_by("-pk").values_list("pk", "build_id", "row"):
        if (build, row) in seen:
            Option.objects.filter(pk=pk).delete()
        seen.add((build, row))


class Migration(migrations.Migration):
    dependencies = [("worth", "0001_initial"), ("builds", "0003_take_over_from_the_stations")]

    operations = [
        migrations.RenameModel("Purse", "Economics"),
        migrations.AlterField(
            "economics",
            "build",
            models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, related_name="%(class)s", to="builds.build"),
        ),
        migrations.RemoveField("economics", "currency"),
        migrations.RenameField("economics", "own_share", "self_consumption"),
        migrations.AddConstraint(
            "economics",
            models.CheckConstraint(condition=models.Q(("life__gte", 1)), name="economics_of_a_year_or_more"),
        ),
        migrations.AddConstraint(
            "economics",
            models.CheckConstraint(
                condition=models.Q(("self_consumption__gte", 0), ("self_consumption__lte", 1)), name="economics_share"
            ),
        ),
        migrations.AlterField("option", "row", models.CharField(blank=True, max_length=16, null=True)),
        migrations.RunPython(one_a_row, migrations.RunPython.noop),
        migrations.AddConstraint("option", models.UniqueConstraint(fields=("build", "row"), name="one_option_a_row")),
    ]
