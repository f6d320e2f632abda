"""A disk that runs full while makers save: `python -m bench.disk FOLDER`.

The folder is an empty one on a small file system made for this (700 MB: `mount -t tmpfs -o size=700m tmpfs FOLDER`). The service
keeps its data there; pictures are brought in until none is taken. To hold: whoever saves is told that there is no room, pages
are still read, no save that was acknowledged is lost, and once there is room again work goes on without a new start.
"""

import argparse
import io
import os
import shutil
import time
from pathlib import Path

import numpy as np
from PIL import Image

from bench.kill import Writer
from bench.service import Maker, service

WORDS = "There is no room left on the disk"
LEFT_AT_FIRST, MOST_PICTURES, WRITERS, LONGEST_S = 260 * 2**20, 60, 2, 60.0
BALLAST = "ballast"


def noise(number: int) -> bytes:
    """A picture file of some 6 MB that nothing makes smaller."""
    out = io.BytesIO()
    pixels = np.random.default_rng(number).integers(0, 256, (1400, 1500, 3), dtype=np.uint8)
    Image.fromarray(pixels).save(out, "PNG", compress_level=0)
    return out.getvalue()


def fill(folder: Path) -> None:
    """Leave only some room."""
    with (folder / BALLAST).open("wb") as file:
        os.posix_fallocate(file.fileno(), 0, max(2**20, shutil.disk_usage(folder).free - LEFT_AT_FIRST))


def bring(maker: Maker, pictures: str) -> tuple[int, int, str]:
    """(pictures that were taken, status and page of the one that was not)."""
    for number in range(MOST_PICTURES):
        maker.ask(pictures)
        status, text, *_ = maker.upload(f"{pictures}add/", "picture", f"noise-{number}.png", noise(number))
        if status != 200:
            return number, status, text
    raise RuntimeError("the disk did not run full: is the folder on a small file system?")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("folder", type=Path)
    folder = parser.parse_args().folder.resolve()
    with service(demo=False, data=folder / "var") as running:
        writers = [Writer(running, f"writer{n}") for n in range(WRITERS)]
        maker = Maker(running.address)
        maker.sign_up("bringer")
        build = maker.new_build("epaper-800x480-seven-colour")
        fill(folder)
        for writer in writers:
            writer.start()
        taken, status, text = bring(maker, f"{build}pictures/")
        told = f"{status}, {'in words' if WORDS in text else 'without words: ' + text[:200]}"
        time.sleep(5)
        read = [maker.ask(address)[0] for address in ("/", "/panels/", f"{build}pictures/", f"{build}screens/")]
        before = sum(writer.saved for writer in writers)
        (folder / BALLAST).unlink()
        begun = time.monotonic()
        while (again := maker.upload(f"{build}pictures/add/", "picture", "after.png", noise(99))[0]) != 200:
            maker.ask(f"{build}pictures/")
            if time.monotonic() - begun > LONGEST_S:
                raise RuntimeError(f"with room again a picture is still not taken: {again}")
            time.sleep(0.2)
        took = time.monotonic() - begun
        time.sleep(3)
        for writer in writers:
            writer.over.set()
            writer.join(LONGEST_S)
        for writer in writers:
            writer.check(writer.maker.ask(writer.page)[1])
        print(f"full after {taken} pictures: {told}; pages read on the full disk: {read}")
        print(f"with room again a picture was taken after {took:.1f} s, without a new start")
        after, lost = sum(writer.saved for writer in writers) - before, sum(writer.lost for writer in writers)
        print(f"texts saved meanwhile: {before} and then {after} more, {lost} lost or altered")


if __name__ == "__main__":
    main()
