"""What the service's processes hold after a club's afternoon of photos: `python -m bench.memory`.

24 photos of 12 megapixels go into one build of a large colour panel, each is looked at and previewed; then all again from
another viewing distance. A second process makes all files of the build, as the worker does. To hold: 700 MiB each.
"""

import io
import multiprocessing
from pathlib import Path

import numpy as np

from bench.database import database

PHOTOS, WIDE, HIGH = 24, 4000, 3000
MOST_MIB = 700


def held_mib(field: str = "VmRSS") -> float:
    """Memory of this process: what it holds now, or with VmHWM the most it has held."""
    line = next(row for row in Path("/proc/self/status").read_text().splitlines() if row.startswith(field))
    return int(line.split()[1]) / 1024


def photo(number: int) -> bytes:
    """A made-up photo as JPEG: soft shapes with grain, so that it compresses as photos do."""
    from PIL import Image

    rng = np.random.default_rng(number)
    soft = Image.fromarray(rng.integers(0, 256, (30, 40, 3), np.uint8)).resize((WIDE, HIGH), Image.Resampling.BICUBIC)
    out = io.BytesIO()
    soft.save(out, "JPEG", quality=85)
    return out.getvalue()


def report(words: str) -> None:
    from workshop.memory import held_bytes

    kept = sum(held_bytes().values()) / 2**20
    print(f"{words:42} {held_mib():6.0f} MiB now, {held_mib('VmHWM'):6.0f} at most, of which caches count {kept:4.0f}")


def make_all_files(build_id: int, owner_id: int) -> None:
    """What the worker does, in a process of its own."""
    import django

    django.setup()
    from workshop.jobs.models import Job
    from workshop.jobs.progress import Progress
    from workshop.stations.files_job import make_files

    job = Job.objects.create(build_id=build_id, owner_id=owner_id, kind="files")
    made = make_files(job, Progress(job))
    report(f"worker, {made.name}")


def main() -> None:
    with database():
        from django.contrib.auth import get_user_model
        from django.test import Client
        from django.test.utils import setup_test_environment

        import workshop.wsgi  # noqa: F401
        from mosaic.warm import warm
        from workshop.builds.services import start_build
        from workshop.documents.originals import keep_picture
        from workshop.pictures.services import add_picture

        setup_test_environment()
        warm()
        report("the program with its kernels")
        person = get_user_model().objects.create_user("rower", password="boathouse-bench")
        client = Client()
        client.force_login(person)
        build = start_build(
            owner=person, name="Large board", panel="epaper-800x480-seven-colour", board="wireless-large", link_kind="spi"
        )
        pictures = []
        for number in range(PHOTOS):
            original = keep_picture(data=photo(number), file_name=f"{number}.jpg", owner=person)
            pictures.append(add_picture(build=build, original=original, file_name=f"{number}.jpg"))
        report(f"{PHOTOS} photos brought")
        for distance_mm in (600, 900):
            type(build).objects.filter(pk=build.pk).update(viewing_distance_mm=distance_mm)
            for picture in pictures:
                page = f"/builds/{build.pk}/pictures/{picture.pk}/"
                assert client.get(page).status_code == 200
                answer = client.post(f"{page}preview/", {"exposure": "0.3"}, headers={"HX-Request": "true", "X-Live": "1"})
                assert b"".join(answer.streaming_content)
            report(f"each looked at and previewed, {distance_mm} mm")
        process = multiprocessing.get_context("spawn").Process(target=make_all_files, args=(build.pk, person.pk))
        process.start()
        process.join()


if __name__ == "__main__":
    main()
