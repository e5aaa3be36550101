import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):
    """The tables stand since the log had these models: only where they are told of moves."""

    initial = True

    dependencies = [
        ("log", "0004_source_names_apart"),
        ("builds", "0006_start_step"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name="Practice",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("level", models.PositiveSmallIntegerField()),
                        ("seed", models.PositiveIntegerField()),
                        ("asked", models.JSONField(default=list)),
                        ("named", models.JSONField(default=list)),
                        ("hits", models.PositiveSmallIntegerField(default=0)),
                        ("hidden", models.PositiveSmallIntegerField(default=1)),
                        ("minutes", models.FloatField(default=0.0)),
                        ("done_at", models.DateTimeField(null=True)),
                        (
                            "owner",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="practice", to=settings.AUTH_USER_MODEL
                            ),
                        ),
                    ],
                    options={
                        "db_table": "log_practice",
                        "ordering": ["-pk"],
                        "indexes": [models.Index(fields=["owner", "level"], name="practice_by_level")],
                    },
                ),
                migrations.CreateModel(
                    name="WhyLow",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("day", models.DateField()),
                        ("answers", models.JSONField(default=dict)),
                        ("passed", models.JSONField(default=list)),
                        (
                            "build",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="why_low", to="builds.build"
                            ),
                        ),
                    ],
                    options={
                        "db_table": "log_whylow",
                        "ordering": ["-pk"],
                        "constraints": [models.UniqueConstraint(fields=("build", "day"), name="one_case_a_day")],
                    },
                ),
            ]
        ),
    ]
