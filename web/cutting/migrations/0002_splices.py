from django.db import migrations, models


def told(apps, schema_editor):
    """What was spliced anywhere is told so."""
    apps.get_model("cutting", "Cutting").objects.filter(splice=True).update(splices="any")


class Migration(migrations.Migration):
    dependencies = [("cutting", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="cutting",
            name="splices",
            field=models.CharField(
                choices=[
                    ("none", "nothing"),
                    ("any", "what is too long, anywhere"),
                    ("over supports", "what is too long, over supports"),
                ],
                default="none",
                max_length=14,
            ),
        ),
        migrations.AddField(model_name="cutting", name="overlap", field=models.FloatField(blank=True, null=True)),
        migrations.RunPython(told, migrations.RunPython.noop),
        migrations.RemoveField(model_name="cutting", name="splice"),
    ]
