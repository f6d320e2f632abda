"""What lies in the bin, and what leaves it for good."""

from datetime import datetime, timedelta
from typing import Any

from django.apps import apps
from django.utils import timezone

from workshop.accounts.models import User
from workshop.documents.models import Document
from workshop.removal import Removable

BIN_DAYS = 30
"""For so long what was deleted can be brought back."""


def kinds() -> list[type[Removable]]:
    """Everything that goes into the bin besides documents."""
    return [model for model in apps.get_models() if issubclass(model, Removable)]


def removed_rows(person: Any, since: datetime) -> list[Removable]:
    """What a person has deleted since a moment, the newest first."""
    found = [row for kind in kinds() for row in kind.everything.filter(removed__gte=since, **{kind.OWNER: person})[:100]]
    return sorted(found, key=lambda row: row.removed, reverse=True)


def empty() -> int:
    """Delete for good what has lain in the bin for longer; gives how much it was."""
    before = timezone.now() - timedelta(days=BIN_DAYS)
    count = User.objects.filter(leaves__lt=before).delete()[0]
    for kind in kinds():
        count += kind.everything.filter(removed__lt=before).delete()[0]
    return count + Document.everything.filter(deleted__lt=before).delete()[0]
