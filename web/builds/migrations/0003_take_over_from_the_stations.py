"""Copy units, currency and the open sky from the stations' rows to their builds."""

from django.db import migrations


def take_over(apps, schema_editor):
    Build = apps.get_model("builds", "Build")
    sources = (("place", "Place", "units"), ("worth", "Purse", "currency"), ("shade", "Yard", "open_sky"))
    for app, model, field in sources:
        for build, value in apps.get_model(app, model).objects.values_list("build_id", field):
            Build.objects.filter(pk=build).update(**{field: value})


class Migration(migrations.Migration):
    dependencies = [
        ("builds", "0002_how_a_build_is_shown"),
        ("place", "0002_remove_place_horizon"),
        ("worth", "0001_initial"),
        ("shade", "0002_a_yard_for_every_build"),
    ]

    operations = [migrations.RunPython(take_over, migrations.RunPython.noop)]
