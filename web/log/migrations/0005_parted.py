from django.db import migrations


class Migration(migrations.Migration):
    """Devices, trials and diagnosis are apps of their own: their tables stay as they are."""

    dependencies = [
        ("log", "0004_source_names_apart"),
        ("devices", "0001_initial"),
        ("trials", "0001_initial"),
        ("why", "0001_initial"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.DeleteModel(name)
                for name in ("Chunk", "Practice", "Token", "TrialRepeat", "Trial", "Turn", "Upload", "WhyLow")
            ]
        ),
    ]
