"""Lettering: 96 glyphs rendered and packed, against the general imaging library drawing the same: `python -m bench.lettering`."""

import io

from PIL import ImageFont

from bench.timing import interleaved
from mosaic.lettering.faces import FACES
from mosaic.lettering.making import Sources, make
from mosaic.lettering.packing import WAYS, pack
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.source import WEB_FONTS, font_info, unpacked

SIZES = (16, 32)
CHARACTERS = "".join(chr(code) for code in range(0x20, 0x7F)) + "°"


def library_draws(data: bytes, size: int) -> None:
    """Every character as a mask of its own, by Pillow's own reader of fonts."""
    font = ImageFont.truetype(io.BytesIO(data), size, layout_engine=ImageFont.Layout.BASIC)
    for character in CHARACTERS:
        font.getmask(character, mode="1")


def main() -> None:
    print(f"{len(CHARACTERS)} glyphs rendered, kerned, packed and indexed; to stay under 150 ms")
    for slug, face in FACES.items():
        info = font_info(face.data, face.name)
        if not {ord(c) for c in CHARACTERS} <= info.codes:
            continue
        for size in SIZES if not info.native_px else (info.native_px,):
            plan = LetteringPlan(face=slug, size_px=size, more="°")
            ours = lambda p=plan: pack(make(p, Sources(0.2)).lettering)  # noqa: E731
            if info.native_px:
                own, _ = interleaved(ours, lambda: None)
                print(f"  {face.name:34} {size:3} px {own * 1e3:8.2f} ms")
                continue
            data = unpacked(face.data) if face.data[:4] in WEB_FONTS else face.data
            own, theirs = interleaved(ours, lambda d=data, s=size: library_draws(d, s))
            print(f"  {face.name:34} {size:3} px {own * 1e3:8.2f} ms   library {theirs * 1e3:6.2f} ms   {theirs / own:5.2f}x")
    lettering = make(LetteringPlan(face="sans", size_px=32, more="°"), Sources(0.2)).lettering
    every, _ = interleaved(lambda: [pack(lettering, *way) for way in WAYS], lambda: None)
    print(f"  all {len(WAYS)} ways of packing, 32 px {every * 1e3:8.2f} ms")


if __name__ == "__main__":
    main()
