"""Hostile files, texts and numbers by HTTP, on a service of its own: `python -m bench.attack`.

To hold: no answer of 500, none later than 3 s, no process lost, memory under its bound.
"""

import random
import subprocess
import zlib

from bench.service import Maker, Service, service

ROUNDS, LONGEST_S, MOST_MIB = 400, 3.0, 700
SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="200" height="200" viewBox="0 0 200 200">{}</svg>'
TURBULENT = '<filter id="f"><feTurbulence numOctaves="900000"/></filter><rect width="200" height="200" filter="url(#f)"/>'


def png(width: int, height: int, kind: int = 2, depth: int = 8) -> bytes:
    """One colour, packed to next to nothing."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return len(data).to_bytes(4, "big") + name + data + zlib.crc32(name + data).to_bytes(4, "big")

    line = 1 + width * depth * {0: 1, 2: 3, 6: 4}[kind] // 8
    press = zlib.compressobj(1)
    body = b"".join(press.compress(bytes(line * 64)) for _ in range(height // 64)) + press.flush()
    head = width.to_bytes(4, "big") + height.to_bytes(4, "big") + bytes([depth, kind, 0, 0, 0])
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


def files() -> list[tuple[str, bytes]]:
    """(name, bytes) of files that were made to stop or fill the program that reads them."""
    return [
        ("deep.svg", SVG.format("<g>" * 1000 + "</g>" * 1000).encode()),
        ("turbulent.svg", SVG.format(TURBULENT).encode()),
        ("many.svg", SVG.format('<rect width="1" height="1"/>' * 200_000).encode()),
        ("number.svg", SVG.format("").replace('width="200"', 'width="1e400"').encode()),
        ("box.svg", SVG.format("").replace("0 0 200 200", ". . . .").encode()),
        ("large.png", png(8000, 4992)), ("deep.png", png(8000, 4992, 6, 16)), ("wide.png", png(65_472, 640, 0)),
        ("broken.png", png(64, 64)[:60]), ("empty.gif", b"GIF89a"), ("nothing.png", b""), ("huge.png", png(40_000, 640)[:3000]),
    ]  # fmt: skip


TEXTS = (
    "C,2A,1e999999999", "D,00\n" * 200_000, "a" * 1_000_000, "{" * 300_000, "9" * 5000, "²", "inf", "1e400", "/*" * 400_000,
    "\n" * 800_000,
    "delay " + "9" * 400, "c {x0/0}", "[" * 100_000, '"\\ud800"', "0x00," * 200_000, "S 3C W A 40 A 00 A P\n" * 40_000,
    "a(" * 400_000,
)  # fmt: skip


def memory_mib(running: Service) -> int:
    """The largest of its processes, resident."""
    numbers = ",".join(map(str, running.processes()))
    told = subprocess.run(["ps", "-o", "rss=", "-p", numbers], capture_output=True, text=True, check=False).stdout
    return max(int(line) for line in told.split()) // 1024


def main() -> None:
    dice = random.Random("attack")
    with service() as running:
        maker = Maker(running.address)
        maker.sign_up("visitor")
        build = maker.new_build()
        before, most = set(running.processes()), 0
        answers: dict[int, int] = {}
        late: list[tuple[str, float]] = []
        forms = {
            f"{build}bring-up/captures/": "capture", f"{build}bring-up/arrays/": "text", f"{build}bring-up/set-ups/": "there",
            f"{build}bring-up/touch/": "readings", f"{build}lettering/measuring/texts/": "texts", f"{build}wiring/": "program",
            f"{build}sheet/": "viewing_distance_mm", f"{build}fix/": "changes", "/panels/identify/": "words",
        }  # fmt: skip
        brought = files()
        for number in range(ROUNDS):
            if number % 3 == 0:
                name, data = dice.choice(brought)
                where = f"{build}pictures/add/"
                maker.ask(f"{build}pictures/")
                status, _, took, _ = maker.upload(where, "picture", name, data)
                what = name
            else:
                where = dice.choice(sorted(forms))
                text = dice.choice(TEXTS)
                status, _, took, _ = maker.ask(where, {forms[where]: text, "revision": "1", "base": "0"})
                what = f"{where} {text[:12]!r}"
            answers[status] = answers.get(status, 0) + 1
            if status >= 500 or status == 0:
                print("fault", status, what)
            if took > LONGEST_S:
                late.append((what, took))
            most = max(most, memory_mib(running))
        status = maker.ask("/")[0]
        print(f"{ROUNDS} requests: " + ", ".join(f"{count} answers of {code}" for code, count in sorted(answers.items())))
        print(f"{len(late)} later than {LONGEST_S:g} s", *(f"{what}: {took:.1f} s" for what, took in late[:8]), sep="\n  ")
        print(f"{len(before - set(running.processes()))} processes lost; the largest took {most} MiB (to stay under {MOST_MIB})")
        print(f"afterwards the workshop answers {status}")


if __name__ == "__main__":
    main()
