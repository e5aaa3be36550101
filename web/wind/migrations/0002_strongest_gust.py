from django.db import migrations


def raise_strongest(apps, schema_editor):
    """The strongest gust is at least each month's: builds from before that was asked get the strongest month's."""
    for wind in apps.get_model("wind", "Wind").objects.exclude(gust=None).exclude(gusts=None).iterator():
        if wind.gusts and max(wind.gusts) > wind.gust:
            wind.gust = max(wind.gusts)
            wind.save(update_fields=["gust"])


class Migration(migrations.Migration):
    dependencies = [("wind", "0001_initial")]

    operations = [migrations.RunPython(raise_strongest, migrations.RunPython.noop)]
