from datetime import timedelta

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models
from django.utils import timezone

from web.accounts.names import name_key

# Accents tell people apart ("zöe", "zoe"): the database compares names byte by byte, the key of the name does the rest.
APART = "ALTER TABLE auth_user MODIFY username varchar(150) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL"
AS_BEFORE = "ALTER TABLE auth_user MODIFY username varchar(150) CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci NOT NULL"
SHARED_DEMO = timedelta(days=30)  # whoever worked in the demo that was shared by all can take things out so long


def accounts_for_all(apps, schema_editor):
    User, Account = apps.get_model("auth", "User"), apps.get_model("accounts", "Account")
    taken = set()
    for user in User.objects.filter(account=None).order_by("pk"):
        key = name_key(user.username)
        key = key if key not in taken else f"{key} {user.pk}"
        taken.add(key)
        until = timezone.now() + SHARED_DEMO if user.username == "demo" else None
        Account.objects.create(user=user, name_key=key, demo_until=until)


class Migration(migrations.Migration):
    initial = True
    dependencies = [
        ("auth", "0012_alter_user_first_name_max_length"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]
    operations = [
        migrations.RunSQL(APART, AS_BEFORE),
        migrations.CreateModel(
            name="Account",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name_key", models.CharField(db_collation="utf8mb4_bin", max_length=300, unique=True)),
                ("recovery", models.CharField(blank=True, max_length=160)),
                ("failed", models.PositiveIntegerField(default=0)),
                ("failed_at", models.DateTimeField(blank=True, null=True)),
                ("demo_until", models.DateTimeField(blank=True, db_index=True, null=True)),
                (
                    "user",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="account", to=settings.AUTH_USER_MODEL
                    ),
                ),
            ],
        ),
        migrations.RunPython(accounts_for_all, migrations.RunPython.noop),
    ]
