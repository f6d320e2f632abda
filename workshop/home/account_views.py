"""A person's own account: another password, everything of theirs in one file, and the end of it."""

import io
import json
import zipfile

from django.contrib import messages
from django.contrib.auth import logout, update_session_auth_hash
from django.contrib.auth.forms import PasswordChangeForm
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.source_text import distinct, identifier
from workshop.accounts.models import User
from workshop.answers import attachment
from workshop.builds.models import Build
from workshop.documents.models import Original
from workshop.home.bin import BIN_DAYS
from workshop.journal.models import LogEntry
from workshop.stations.build_file import build_file


def account(request: HttpRequest) -> HttpResponse:
    """The page; posted, another password."""
    form = PasswordChangeForm(request.user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        update_session_auth_hash(request, form.save())
        messages.success(request, "The password was changed. Other browsers are signed out.")
        return redirect("account")
    return render(request, "home/account.html", {"form": form, "here": "account"}, status=422 if form.errors else 200)


def export(request: HttpRequest) -> HttpResponse:
    """Everything of a person: each build as a build file, its log as JSON with its photos."""
    out = io.BytesIO()
    builds = list(Build.objects.filter(owner=request.user))
    names = distinct([identifier(build.name, "build") for build in builds])
    left = []
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for build, name in zip(builds, names, strict=True):
            try:
                archive.writestr(f"{name}/build.zip", build_file(build))
            except MosaicError as error:
                left.append(f"{build.name}: {error}")
            entries = LogEntry.objects.filter(build=build).order_by("made")
            archive.writestr(f"{name}/log.json", json.dumps([_plain(entry) for entry in entries], indent=1, ensure_ascii=False))
            photos = Original.objects.filter(pk__in=[entry.photo_id for entry in entries if entry.photo_id])
            for photo in photos:
                archive.writestr(f"{name}/photos/{photo.pk}.png", bytes(photo.data))
        about = {"name": request.user.username, "workshop": request.user.workshop_title, "builds": names, "left_out": left}
        archive.writestr("account.json", json.dumps(about, indent=1, ensure_ascii=False))
    return attachment(out.getvalue(), f"{identifier(request.user.username, 'workshop')}.zip", "application/zip")


def _plain(entry: LogEntry) -> dict[str, object]:
    fields = (
        "kind",
        "text",
        "worked",
        "quantity",
        "value",
        "predicted",
        "instrument",
        "conditions",
        "tags",
        "subject",
        "state",
        "by_itself",
    )
    return {"made": entry.made.isoformat(), **{name: getattr(entry, name) for name in fields}, "photo": entry.photo_id}


@require_POST
def delete(request: HttpRequest) -> HttpResponse:
    """The account goes into the bin with all that it owns; the password has to be typed, and signing in brings it back."""
    person: User = request.user  # type: ignore[assignment]
    if not person.check_password(request.POST.get("password", "")):
        raise BadValueError("this is not your password; type it to delete the account with all of its builds")
    person.leaves = timezone.now()
    person.save(update_fields=["leaves"])
    logout(request)
    messages.success(
        request, f"The account was deleted. Until {BIN_DAYS} days are over, signing in brings it back as it was; then it is gone."
    )
    return redirect("sign-in")
