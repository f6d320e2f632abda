"""A whole build as a file, and a file as a new build."""

from django.conf import settings
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from mosaic.build_file import MOST_FILE_BYTES
from mosaic.errors import BadValueError
from mosaic.source_text import identifier
from workshop.answers import attachment
from workshop.builds.pages import own_build
from workshop.documents.originals import read_upload
from workshop.stations.build_file import bring_build, build_file


def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build as one file."""
    build = own_build(request, build_id)
    return attachment(build_file(build), f"{identifier(build.name, 'build')}.build.zip", "application/zip")


EXAMPLES = settings.BASE_DIR / "examples" / "builds"


def examples() -> list[tuple[str, str]]:
    """(file name, words) of builds to begin from."""
    return [(path.stem, path.stem.replace("_", " ").capitalize()) for path in sorted(EXAMPLES.glob("*.zip"))]


@require_POST
def bring(request: HttpRequest) -> HttpResponse:
    """A new build of a file."""
    example = request.POST.get("example", "")
    if example:
        if example not in dict(examples()):
            raise BadValueError(
                f"there is no example called {example[:40]}; {', '.join(name for name, _ in examples())} are there"
            )
        build = bring_build((EXAMPLES / f"{example}.zip").read_bytes(), owner=request.user)
        messages.success(request, f"{build.name} is here as a build of its own.")
        return redirect("build", build.pk)
    upload = request.FILES.get("file")
    if upload is None:
        raise BadValueError("no file was chosen; a build file that Fine Mosaic has written is accepted")
    build = bring_build(read_upload(upload, MOST_FILE_BYTES, "build files"), owner=request.user)
    messages.success(request, f"{build.name} is here as a build of its own.")
    return redirect("build", build.pk)
