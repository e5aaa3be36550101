import uuid

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models


class Migration(migrations.Migration):
    """The tables stand since the log had these models: only where they are told of moves."""

    initial = True

    dependencies = [
        ("log", "0004_source_names_apart"),
        ("builds", "0006_start_step"),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Trial",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("design", models.JSONField()),
                        ("created_at", models.DateTimeField(default=django.utils.timezone.now)),
                        (
                            "build",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="trials", to="builds.build"
                            ),
                        ),
                    ],
                    options={
                        "db_table": "log_trial",
                        "ordering": ["-pk"],
                    },
                ),
                migrations.CreateModel(
                    name="TrialRepeat",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("client_id", models.UUIDField(default=uuid.uuid4)),
                        ("data", models.JSONField()),
                        (
                            "trial",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="repeats", to="trials.trial"
                            ),
                        ),
                    ],
                    options={
                        "db_table": "log_trialrepeat",
                        "ordering": ["pk"],
                        "constraints": [models.UniqueConstraint(fields=("trial", "client_id"), name="one_repeat_a_client_id")],
                    },
                ),
            ]
        ),
    ]
