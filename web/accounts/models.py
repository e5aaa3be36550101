"""What is known of a person beside Django's own user: the key of the name, the recovery code, tries that failed."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db import models
from django.db.models.signals import post_save
from django.dispatch import receiver

from web.accounts.names import name_key

THINK_IN = [("metric", "metres and kilograms"), ("us", "feet and pounds")]


class Account(models.Model):
    """One a user, made with it. ``recovery`` is the hash of the recovery code; ``failed`` counts wrong passwords since the last
    sign-in; ``demo_until`` is set for a visitor of the demo, whose copy is thrown away then. ``units``: in which new builds
    begin."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="account")
    name_key = models.CharField(max_length=300, unique=True, db_collation="utf8mb4_bin")
    recovery = models.CharField(max_length=160, blank=True)
    failed = models.PositiveIntegerField(default=0)
    failed_at = models.DateTimeField(null=True, blank=True)
    demo_until = models.DateTimeField(null=True, blank=True, db_index=True)
    units = models.CharField(max_length=8, blank=True, choices=THINK_IN)  # empty: as the place's country does

    @property
    def is_visitor(self) -> bool:
        """Whether this is a passing visitor of the demo."""
        return self.demo_until is not None


class DataIn(models.Model):
    """A zip of “My data” on its way in: ``made`` are the builds made so far, by their number in it, so that a worker that takes it up again
    goes on there; ``taken`` and ``known`` how many came of it, and how many were there already; ``words`` why it was refused."""

    class State(models.TextChoices):
        COMING = "coming"
        IN = "in"
        REFUSED = "refused"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    digest = models.CharField(max_length=64)
    data = models.BinaryField(null=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.COMING)
    made = models.JSONField(default=dict)
    taken = models.PositiveSmallIntegerField(default=0)
    known = models.PositiveSmallIntegerField(default=0)
    words = models.JSONField(default=list)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]
        constraints = [models.UniqueConstraint(fields=["owner", "digest"], name="one_zip_a_person")]


@receiver(post_save, sender=User)
def _with_account(sender: type[User], instance: User, created: bool, raw: bool = False, **kwargs: Any) -> None:
    if created and not raw:
        Account.objects.create(user=instance, name_key=name_key(instance.username))
