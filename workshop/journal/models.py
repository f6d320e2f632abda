"""Entries of logs. Models store and constrain."""

from typing import ClassVar

from django.db import models
from django.utils import timezone

from workshop.builds.models import Build
from workshop.documents.models import Original
from workshop.removal import Removable

KINDS = (
    ("trial", "trial"), ("measurement", "measurement"), ("fix", "fix"), ("note", "note"), ("photo", "photo"),
    ("update", "update"),
)  # fmt: skip


class LogEntry(Removable):
    """Something that happened with a build.

    `made` is when it happened, as the maker says; `value` is in the unit in which its `quantity` is kept, `predicted` what the
    build said then. `page`, `subject` : where it was written, and what that page showed. `state` : the build then, in few words.
    `setup` : of a trial, its wires and set-up card then.
    `by_itself` : a station wrote it. `words` : everything of it, for the search.
    """

    OWNER = "build__owner"

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="log")
    kind = models.CharField(max_length=12, choices=KINDS, default="note")
    made = models.DateTimeField(default=timezone.now)
    text = models.TextField(blank=True, default="")
    worked = models.BooleanField(null=True, default=None)
    quantity = models.CharField(max_length=24, blank=True, default="")
    value = models.FloatField(null=True, default=None)
    predicted = models.FloatField(null=True, default=None)
    instrument = models.CharField(max_length=80, blank=True, default="")
    conditions = models.CharField(max_length=200, blank=True, default="")
    tags = models.CharField(max_length=200, blank=True, default="")
    page = models.CharField(max_length=300, blank=True, default="")
    subject = models.CharField(max_length=200, blank=True, default="")
    state = models.CharField(max_length=300, blank=True, default="")
    setup = models.TextField(blank=True, default="")
    photo = models.ForeignKey(Original, null=True, default=None, on_delete=models.PROTECT, related_name="+")
    by_itself = models.BooleanField(default=False)
    words = models.TextField(default="")
    created = models.DateTimeField(auto_now_add=True)

    label_words: ClassVar[str] = "The entry"

    class Meta(Removable.Meta):
        ordering = ["-made", "-id"]
        indexes = [models.Index(fields=["build", "made"]), models.Index(fields=["build", "quantity"])]

    @property
    def label(self) -> str:
        return self.label_words

    @property
    def tag_list(self) -> list[str]:
        return self.tags.split()


class Version(Removable):
    """A build as it was at a time, under a name: its file."""

    OWNER = "build__owner"

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="versions")
    name = models.CharField(max_length=80)
    made = models.DateTimeField(auto_now_add=True)
    build_file = models.BinaryField()

    class Meta(Removable.Meta):
        ordering = ["-id"]

    @property
    def label(self) -> str:
        return f"The version “{self.name}”"


class BookLink(models.Model):
    """An address under which a build's book can be read without signing in, until it is revoked."""

    build = models.OneToOneField(Build, on_delete=models.CASCADE, related_name="book_link")
    token_hash = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)


class SavedSearch(models.Model):
    """Words that a maker searches for again and again."""

    owner = models.ForeignKey("accounts.User", on_delete=models.CASCADE, related_name="searches")
    words = models.CharField(max_length=200)

    class Meta:
        ordering = ["words"]
        constraints = [models.UniqueConstraint(fields=["owner", "words"], name="one_search_of_these_words")]
