"""What tests read of a build's documents, straight from the database."""

from typing import Any

from workshop.builds.models import Build, SetupDocument, WiringDocument
from workshop.documents.models import Document


def kept(build: Build, kind: type[Document]) -> Any:
    """A build's documents of a kind, with what each is now."""
    return kind.objects.of(build)


def single(build: Build, kind: type[Document]) -> Any:
    """The record of the one document of a kind; None where the build has none."""
    row = kind.objects.of(build.pk).first()
    return row.record if row else None


def base(build: Build, kind: type[Document]) -> int:
    """The revision at which it stands; 0 where the build has none."""
    row = kind.objects.of(build.pk).first()
    return row.head_id if row else 0


def wiring(build: Build) -> Any:
    return single(build, WiringDocument)


def setup_card(build: Build) -> Any:
    return single(build, SetupDocument)
