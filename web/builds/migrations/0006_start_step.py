from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("builds", "0005_one_yard")]

    operations = [
        migrations.AddField(model_name="build", name="start_step", field=models.CharField(blank=True, default="", max_length=20)),
    ]
