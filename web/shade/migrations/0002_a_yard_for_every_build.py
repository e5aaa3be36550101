from django.db import migrations


def make_yards(apps, schema_editor):
    """Every build gets its yard; the skyline of its place moves there."""
    yards = apps.get_model("shade", "Yard")
    for place in apps.get_model("place", "Place").objects.defer("file_data"):
        skyline = [{"azimuth": point[0], "elevation": point[1], "kind": "solid"} for point in place.horizon]
        yards.objects.get_or_create(build_id=place.build_id, defaults={"skyline": skyline})


class Migration(migrations.Migration):
    dependencies = [("shade", "0001_initial"), ("place", "0001_initial")]
    operations = [migrations.RunPython(make_yards, migrations.RunPython.noop, elidable=True)]
