from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("place", "0001_initial"), ("shade", "0002_a_yard_for_every_build")]

    operations = [migrations.RemoveField(model_name="place", name="horizon")]
