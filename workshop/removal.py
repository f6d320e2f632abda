"""Taking something away so that the notice brings it back: the row stays, marked, and pages do not find it."""

from typing import ClassVar, Self

from django.apps import apps
from django.contrib import messages
from django.db import models
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from workshop.answers import page_before


class NotRemoved(models.Manager[models.Model]):
    """Rows that have not been removed."""

    def get_queryset(self) -> models.QuerySet:
        return super().get_queryset().filter(removed=None)


class Removable(models.Model):
    """Something of a maker's that is removed by a mark, and comes back by taking the mark away."""

    OWNER: ClassVar[str] = "owner"
    """The way from a row to the person whose it is."""

    removed = models.DateTimeField(null=True, default=None, editable=False)

    objects = NotRemoved()
    everything: ClassVar[models.Manager] = models.Manager()

    class Meta:
        abstract = True
        base_manager_name = "everything"

    def remove(self) -> None:
        """Out of sight; nothing that belongs to it is lost."""
        self.removed = timezone.now()
        self.save(update_fields=["removed"])

    def bring_back(self) -> None:
        """Back where it was."""
        self.removed = None
        self.save(update_fields=["removed"])

    @property
    def label(self) -> str:
        """What notices call it."""
        return str(getattr(self, "name", "It"))


def tell_removed(request: HttpRequest, row: Removable, more: str = "") -> None:
    """Say that a row was removed, with the key that brings it back."""
    back = reverse("bring-back", args=[row._meta.label_lower, row.pk])
    messages.success(request, f"{row.label} was deleted.{f' {more}' if more else ''}", extra_tags=back)


def _model(label: str) -> type[Removable]:
    try:
        model = apps.get_model(label)
    except (LookupError, ValueError):
        raise Http404("no such thing") from None
    if not issubclass(model, Removable):
        raise Http404("no such thing")
    return model


@require_POST
def bring_back(request: HttpRequest, label: str, pk: int) -> HttpResponse:
    """Undo a removal; back on the page from which it was asked for."""
    model = _model(label)
    row: Self | None = model.everything.filter(pk=pk, **{model.OWNER: request.user}).exclude(removed=None).first()
    if row is None:
        raise Http404("no such thing")
    row.bring_back()
    messages.success(request, f"{row.label} is back.")
    return redirect(page_before(request) or "workshop")
