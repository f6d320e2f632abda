"""Documents of a build, each with one history, and the originals they are made of. Models store and constrain."""

from collections.abc import Iterable
from functools import cached_property
from typing import Any, ClassVar, Self

from django.conf import settings
from django.db import models
from django.urls import reverse

from mosaic.device.budget import Place
from mosaic.errors import MosaicError
from mosaic.forms import from_record, to_record
from workshop.errors import UnreadableDocumentError

KEPT_AS = (("array", "as arrays of the program"), ("file", "as files"))


class Original(models.Model):
    """An uploaded file, kept once, however many documents use it."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    media_type = models.CharField(max_length=60)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    byte_count = models.PositiveIntegerField()
    data = models.BinaryField()
    created = models.DateTimeField(auto_now_add=True)


class Upload(models.Model):
    """Who brought an original: the right to use it until a document does."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="uploads")
    original = models.ForeignKey(Original, on_delete=models.CASCADE, related_name="uploads")
    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "original"], name="one_upload_a_person")]


class KeptDocuments(models.Manager["Document"]):
    """Documents of the asking model's kind that have not been deleted."""

    def get_queryset(self) -> models.QuerySet["Document"]:
        rows = super().get_queryset().filter(deleted=None)
        return rows.filter(kind=self.model.KIND) if self.model.KIND else rows

    def of(self, build: Any) -> models.QuerySet["Document"]:
        """Those of a build, with what each is now and what it is made of."""
        return self.filter(build=build).select_related("head").prefetch_related("head__sources")


class Document(models.Model):
    """Something with a description and a history that belongs to a build: a picture, a lettering, a pin plan.

    Its description is the revision that `head` points to. `derived` holds figures that are a function of `derived_key`;
    they can be thrown away. Documents of one `group` share what their kind says they share. A kind is a proxy of
    this model; it says what a description is and where its page is.
    """

    KIND: ClassVar[str] = ""
    NOUN: ClassVar[str] = "document"
    RECORD: ClassVar[type]
    PAGE: ClassVar[str] = ""
    """Name of the address of its page, which takes the build and the document; of the build alone for a `SINGLE`."""
    LIST_PAGE: ClassVar[str] = ""
    MOST: ClassVar[int] = 60
    KEEPABLE: ClassVar[bool] = False
    """Whether it may be kept as a file as well as an array of the program."""
    SINGLE: ClassVar[bool] = False
    """Whether a build has one of this kind at most."""
    OF_DEVICE: ClassVar[bool] = False
    """Whether the device itself changes with it, and everything that is made for the device."""

    build = models.ForeignKey("builds.Build", on_delete=models.CASCADE, related_name="documents")
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=80)
    group = models.CharField(max_length=80, blank=True, default="")
    position = models.PositiveIntegerField(default=0)
    head = models.ForeignKey("Revision", null=True, on_delete=models.SET_NULL, related_name="+")
    derived_key = models.CharField(max_length=64, blank=True, default="")
    derived = models.JSONField(default=dict)
    kept_as = models.CharField(max_length=6, choices=[("", "as the build does"), *KEPT_AS], blank=True, default="")
    deleted = models.DateTimeField(null=True, default=None)
    created = models.DateTimeField(auto_now_add=True)

    objects: ClassVar[KeptDocuments] = KeptDocuments()
    everything = models.Manager()

    class Meta:
        ordering = ["position", "id"]
        indexes = [models.Index(fields=["build", "kind"])]
        base_manager_name = "everything"

    @classmethod
    def read(cls, description: Any) -> Any:
        """The record of a saved description; raises `BadDescriptionError`."""
        return to_record(description, cls.RECORD, cls.NOUN)

    @classmethod
    def write(cls, record: Any) -> dict[str, Any]:
        """The description of a record, ready for JSON."""
        return from_record(record)

    @classmethod
    def with_refs(cls, description: dict[str, Any], refs: dict[str, str]) -> dict[str, Any]:
        """The description with references to other documents renamed; kinds that refer to others say how."""
        return description

    @classmethod
    def refs_in(cls, description: dict[str, Any]) -> set[str]:
        """References to other documents in a description."""
        return set()

    @classmethod
    def carried(cls, record: Any, before: Any, after: Any) -> tuple[Any, tuple[str, ...]]:
        """What of a record still applies to the device `after` parts of `before` were exchanged, and what is lost, in words.

        None where nothing applies: the document is set aside. Kinds that speak of panel, board or link say how.
        """
        return record, ()

    @classmethod
    def keep_source(cls, *, data: bytes, file_name: str, owner: Any) -> Original:
        """Check a file that a document of this kind is made of, and keep it; raises `MosaicError`."""
        raise NotImplementedError(f"a {cls.NOUN} is made of no files")

    @property
    def kept_choices(self) -> list[tuple[str, str]]:
        """Ways of keeping it, with what the build does."""
        return [("", f"as the build does: {dict(KEPT_AS)[self.build.kept_as]}"), *KEPT_AS]

    @property
    def place(self) -> Place:
        """Where it is counted: "files" where it is kept as one, else "arrays"."""
        return "files" if self.KEEPABLE and (self.kept_as or self.build.kept_as) == "file" else "arrays"

    @property
    def ref(self) -> str:
        """Its name in other descriptions and in addresses, such as `figure-12`."""
        return f"{self.kind}-{self.pk}"

    @property
    def description(self) -> dict[str, Any]:
        return self.head.description if self.head else {}

    @property
    def record(self) -> Any:
        """What its description says.

        Raises
        ------
        UnreadableDocumentError
            It cannot be read.
        """
        record, problem = self._reading()
        if problem:
            raise UnreadableDocumentError(problem, self)
        return record

    @property
    def problem(self) -> str:
        """Why its description cannot be read; "" where it can."""
        return self._reading()[1]

    def _reading(self) -> tuple[Any, str]:
        description, kept = self.description, self.__dict__.get("_read")
        if kept is None or kept[0] is not description:
            try:
                kept = (description, self.read(description), "")
            except MosaicError as error:
                kept = (description, None, str(error))
            self.__dict__["_read"] = kept
        return kept[1], kept[2]

    @cached_property
    def sources(self) -> list["Source"]:
        """What its head is made of, in order."""
        return list(self.head.sources.all()) if self.head else []

    @property
    def original_id(self) -> str | None:
        """Key of the first original it is made of; None where it has none."""
        return self.sources[0].original_id if self.sources else None

    @property
    def file_name(self) -> str:
        return self.sources[0].file_name if self.sources else ""

    @property
    def can_undo(self) -> bool:
        return self.head is not None and self.head.parent_id is not None

    @property
    def can_redo(self) -> bool:
        return self.head is not None and self.head.children.exists()

    @property
    def url(self) -> str:
        return reverse(self.PAGE, args=[self.build_id] if self.SINGLE else [self.build_id, self.pk])

    def stand_at(self, revision: "Revision") -> Self:
        """Look at it as one of its revisions has it, without saving."""
        self.head = revision
        self.__dict__.pop("sources", None)
        return self


class Step(models.Model):
    """One thing a maker did that made revisions of several documents; it is undone as one."""

    made = models.DateTimeField(auto_now_add=True)


class Revision(models.Model):
    """One saved description under one name; revisions are never changed. Undo goes to the parent, redo to the newest child."""

    document = models.ForeignKey(Document, on_delete=models.CASCADE, related_name="revisions")
    parent = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    step = models.ForeignKey(Step, null=True, on_delete=models.SET_NULL, related_name="revisions")
    name = models.CharField(max_length=80)
    description = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)


class Source(models.Model):
    """An original that a revision is made of, in order."""

    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="sources")
    original = models.ForeignKey(Original, on_delete=models.PROTECT, related_name="+")
    file_name = models.CharField(max_length=120)
    position = models.PositiveIntegerField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["revision", "position"], name="one_source_a_position")]


SourceFile = tuple[Original, str]
"""An original and the name of the file it came as."""


def bytes_of(sources: Iterable[Source]) -> list[tuple[str, bytes]]:
    """(file name, bytes) of sources, in order."""
    rows = list(sources)
    data = dict(Original.objects.filter(pk__in={row.original_id for row in rows}).values_list("pk", "data"))
    return [(row.file_name, bytes(data[row.original_id])) for row in rows]
