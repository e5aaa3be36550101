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
                    name="Token",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("name", models.CharField(max_length=60)),
                        ("digest", models.CharField(max_length=64, unique=True)),
                        ("hint", models.CharField(max_length=8)),
                        ("created_at", models.DateTimeField(default=django.utils.timezone.now)),
                        ("used_at", models.DateTimeField(null=True)),
                        ("revoked_at", models.DateTimeField(null=True)),
                        (
                            "build",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="tokens", to="builds.build"
                            ),
                        ),
                        (
                            "source",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="tokens", to="log.source"
                            ),
                        ),
                    ],
                    options={
                        "db_table": "log_token",
                        "ordering": ["-pk"],
                    },
                ),
                migrations.CreateModel(
                    name="Upload",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("name", models.CharField(max_length=120)),
                        ("size", models.PositiveIntegerField()),
                        ("guess", models.JSONField(default=dict)),
                        ("columns", models.JSONField(default=dict)),
                        (
                            "state",
                            models.CharField(
                                choices=[("looked-at", "Looked At"), ("coming", "Coming"), ("in", "In"), ("refused", "Refused")],
                                default="looked-at",
                                max_length=10,
                            ),
                        ),
                        ("rows", models.PositiveIntegerField(default=0)),
                        ("added", models.PositiveIntegerField(default=0)),
                        ("known", models.PositiveIntegerField(default=0)),
                        ("differing", models.PositiveIntegerField(default=0)),
                        ("notes", models.JSONField(default=list)),
                        ("digest", models.CharField(default="", max_length=64)),
                        ("created_at", models.DateTimeField(default=django.utils.timezone.now)),
                        (
                            "build",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="uploads", to="builds.build"
                            ),
                        ),
                        ("source", models.ForeignKey(null=True, on_delete=django.db.models.deletion.SET_NULL, to="log.source")),
                    ],
                    options={
                        "db_table": "log_upload",
                        "ordering": ["-pk"],
                    },
                ),
                migrations.CreateModel(
                    name="Turn",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("at", models.DateTimeField()),
                        ("angles", models.JSONField()),
                        ("why", models.CharField(blank=True, max_length=80)),
                        (
                            "source",
                            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="turns", to="log.source"),
                        ),
                    ],
                    options={
                        "db_table": "log_turn",
                        "ordering": ["-at"],
                        "constraints": [models.UniqueConstraint(fields=("source", "at"), name="one_turn_a_time")],
                    },
                ),
                migrations.CreateModel(
                    name="Chunk",
                    fields=[
                        ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                        ("number", models.PositiveIntegerField()),
                        ("data", models.BinaryField()),
                        (
                            "upload",
                            models.ForeignKey(
                                on_delete=django.db.models.deletion.CASCADE, related_name="chunks", to="devices.upload"
                            ),
                        ),
                    ],
                    options={
                        "db_table": "log_chunk",
                        "ordering": ["number"],
                        "constraints": [models.UniqueConstraint(fields=("upload", "number"), name="one_chunk_a_number")],
                    },
                ),
            ]
        ),
    ]
