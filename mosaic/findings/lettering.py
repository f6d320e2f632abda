"""Findings on a lettering: what cannot be shown, cannot be read, or costs flash for nothing."""

import math
import unicodedata
from collections import Counter
from itertools import pairwise
from typing import Any

import numpy as np

from mosaic.findings import Finding, Fix
from mosaic.findings.subjects import LetteringSubject
from mosaic.forms import from_record
from mosaic.lettering.characters import name_of
from mosaic.lettering.coverage import Missing
from mosaic.lettering.faces import FACES
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.lettering.making import SCREENS
from mosaic.lettering.measure import measured, pitch_mm, spots_of
from mosaic.lettering.packing import pack
from mosaic.lettering.shades import contrast_of, shade_count, usual_colors
from mosaic.lettering.texts import characters_used, widest
from mosaic.panels.reading import COMFORTABLE_ARCMIN, FLOOR_ARCMIN, LARGE_CONTRAST, arc_minutes, capital_height_mm
from mosaic.quantities import how_many

SHOWN = 6
WASTED_BYTES = 256
"""Flash from which glyphs that are never shown are worth a word."""


def _listed(codes: list[int]) -> str:
    """A few characters, quoted, and how many more there are."""
    shown = ", ".join(f"{chr(c)} ({name_of(c)})" if len(codes) <= 2 else chr(c) for c in codes[:SHOWN])
    return f"{shown} and {len(codes) - SHOWN} more" if len(codes) > SHOWN else shown


def best_fallback(missing: tuple[Missing, ...]) -> tuple[str, int]:
    """(slug, how many) of the face that has most of what is missing; ("", 0) where none has any."""
    counted = Counter(slug for one in missing for slug in one.faces)
    return counted.most_common(1)[0] if counted else ("", 0)


def characters_missing(subject: LetteringSubject) -> list[Finding]:
    """Wanted characters that nothing stands for."""
    missing = subject.made.missing
    if not missing:
        return []
    slug, count = best_fallback(missing)
    plain = [{"code": m.code, "by": m.by} for m in missing if m.by]
    if count and not subject.plan.fallback:
        fix = Fix(
            f"Take them from {FACES[slug].name}", "lettering", {"fallback": slug}, f"then {len(missing) - count} are missing"
        )
    elif plain:
        kept = [from_record(r) for r in subject.plan.replacements]
        fix = Fix("Write plainer characters", "lettering", {"replacements": kept + plain}, f"for {len(plain)} of {len(missing)}")
    else:
        out = subject.plan.left_out + "".join(chr(m.code) for m in missing)
        fix = Fix("Leave them out", "lettering", {"left_out": out})
    codes = [m.code for m in missing]
    return [
        Finding(
            "lettering.characters-missing", "must fix", "Characters",
            f"{how_many(len(codes), 'character')} of {len(subject.made.wanted)} missing: {_listed(codes)}",
            "The face has no glyphs for them: on the device they are skipped, and words lose letters.", fix,
        )
    ]  # fmt: skip


def pictures_gone(subject: LetteringSubject) -> list[Finding]:
    """Cells that were used as letters and are not in the build any more."""
    gone = subject.made.unknown_cells
    if not gone:
        return []
    keep = [from_record(use) for use in subject.plan.pictures if use.cell not in gone]
    return [
        Finding(
            "lettering.pictures-gone", "must fix", "Characters",
            f"{how_many(len(gone), 'picture')} used as letters {'are' if len(gone) > 1 else 'is'} gone:"
            f" {', '.join(gone[:SHOWN])}",
            "Their strip was cut otherwise or taken out of the build.",
            Fix("Drop them from this lettering", "lettering", {"pictures": keep}),
        )
    ]  # fmt: skip


def is_blank(code: int) -> bool:
    """Whether a character has no ink by its nature."""
    return unicodedata.category(chr(code)) in ("Zs", "Zl", "Zp") or code == 0x2800


def characters_without_ink(subject: LetteringSubject) -> list[Finding]:
    """Characters whose strokes the rendering lost altogether."""
    empty = [g.code for g in subject.made.lettering.glyphs if not g.width and not is_blank(g.code)]
    if not empty:
        return []
    lower = round(max(0.05, subject.plan.threshold - 0.2), 2)
    softer = subject.plan.mode != "hinted" and subject.plan.bits == 1 and subject.plan.threshold > lower
    fix = Fix(f"Lower the threshold to {lower:g}", "lettering", {"threshold": lower}) if softer else None
    return [
        Finding(
            "lettering.no-ink", "must fix", "Render", f"{how_many(len(empty), 'character')} without ink: {_listed(empty)}",
            "Their strokes are thinner than this rendering shows; on the device they look like blanks.", fix,
        )
    ]  # fmt: skip


def _sizes_at_odds(subject: LetteringSubject) -> tuple[int, int] | None:
    """(largest em that all texts fit in, smallest that can be read at the build's distance) where no size serves both."""
    lettering, device = subject.made.lettering, subject.device
    if not subject.texts or not lettering.capital or subject.made.info.native_px:
        return None
    spots = spots_of(device, lettering.line_height)
    found = [measured(text, lettering, device, spots=spots) for text in subject.texts]
    shares = [max(min(s.width / m.extent.room, s.height / lettering.line_height) for s in spots) for m in found if m.extent.room]
    if not shares:
        return None
    rows = math.ceil(capital_height_mm(FLOOR_ARCMIN, device.viewing_distance_mm) / pitch_mm(device)[1] - 1e-9)
    em = subject.made.size.em_px
    fits, reads = math.floor(em * min(shares)), math.ceil(em * rows / lettering.capital)
    return (fits, reads) if fits < reads else None


def no_size_serves(subject: LetteringSubject) -> list[Finding]:
    """The size that can be read is larger than the size that fits: another size mends nothing."""
    odds = _sizes_at_odds(subject)
    if odds is None:
        return []
    (fits, reads), made, device = odds, subject.made, subject.device
    height = made.lettering.capital * fits / made.size.em_px * pitch_mm(device)[1]
    metres = height / (2 * math.tan(math.radians(FLOOR_ARCMIN / 60) / 2)) / 1000
    what = f"Texts fit up to {fits} px, and {device.viewing_distance_mm / 1000:g} m asks for {reads} px"
    why = (
        "No size does both. Fewer letters, a narrower face, two lines, a larger panel or reading"
        f" from {metres:.1f} m would (the distance is set on the build sheet)."
    )
    return [Finding("lettering.no-size-serves", "must fix", "Size", what, why)]


def texts_too_wide(subject: LetteringSubject) -> list[Finding]:
    """Texts of the build whose widest form fits nowhere on the glass."""
    if _sizes_at_odds(subject):
        return []
    spots = spots_of(subject.device, subject.made.lettering.line_height) if subject.texts else ()
    found = [measured(text, subject.made.lettering, subject.device, spots=spots) for text in subject.texts]
    wide = [m for m in found if not m.fits_somewhere]
    if not wide:
        return []
    worst = min(wide, key=lambda m: max(f.spare_px for f in m.fits))
    over = -max(fit.spare_px for fit in worst.fits)
    what = (
        f"“{worst.extent.text}” is {over} px too wide"
        if over > 0
        else f"Lines of {subject.made.lettering.line_height} px are too high"
    )
    more = f", and {how_many(len(wide) - 1, 'more text')}" if len(wide) > 1 else ""
    return [
        Finding(
            "lettering.text-too-wide", "must fix", "Measure", f"{what} for the glass{more}",
            "The end of the text lies off the glass when the value grows. A narrower face, a smaller size or less text fits.",
            _smaller(subject, over, worst.extent.room),
        )
    ]  # fmt: skip


def _smaller(subject: LetteringSubject, over: int, room: int) -> Fix | None:
    size = int(subject.made.size.em_px * (room - over) / room) if over > 0 else 0
    if size < 6 or subject.made.info.native_px:
        return None
    return Fix(f"Set it in {size} px", "lettering", {"size_by": "pixels", "size_px": size})


def capitals_too_small(subject: LetteringSubject) -> list[Finding]:
    """Capitals smaller than can be read at the build's distance."""
    device, lettering = subject.device, subject.made.lettering
    height = lettering.capital * pitch_mm(device)[1]
    angle = arc_minutes(height, device.viewing_distance_mm)
    if not height or angle >= FLOOR_ARCMIN or _sizes_at_odds(subject):
        return []
    metres = device.viewing_distance_mm / 1000
    changes = {"size_by": "distance", "arc_minutes": COMFORTABLE_ARCMIN}
    return [
        Finding(
            "lettering.too-small-to-read", "worth fixing", "Size",
            f"Capitals of {height:.1f} mm appear {angle:.0f}′ high at {metres:g} m",
            f"{FLOOR_ARCMIN:.0f}′ is a floor for reading, 20′ to 22′ are comfortable.",
            Fix(f"Set it for {metres:g} m", "lettering", changes, f"capitals of {COMFORTABLE_ARCMIN:.0f}′"),
        )
    ]  # fmt: skip


def ink_and_ground_alike(subject: LetteringSubject) -> list[Finding]:
    """Two colours of the panel that cannot be told apart as text."""
    passport, plan = subject.device.passport, subject.plan
    contrast = contrast_of(passport, plan.ink, plan.ground)
    if contrast >= LARGE_CONTRAST:
        return []
    ink, ground = usual_colors(passport)
    return [
        Finding(
            "lettering.low-contrast", "worth fixing", "Colours", f"Ink and background have a contrast of {contrast:.1f}:1",
            f"{LARGE_CONTRAST:.0f}:1 is needed for large text, 4.5:1 for small, by the panel's own colours.",
            Fix("Take the panel's strongest pair", "lettering", {"ink": ink, "ground": ground}),
        )
    ]  # fmt: skip


def gap_between(first: Glyph, second: Glyph, kern: int) -> int:
    """Empty columns between two glyphs' ink at the row where they come closest, rows above and below counted; at most 99."""
    closest = 99
    for row in range(min(first.top, second.top) + 1, max(first.bottom, second.bottom) - 2, -1):
        ends = [x for x in _columns(first, row) if x is not None]
        starts = [x for near in (row - 1, row, row + 1) for x in _columns(second, near)]
        if ends and starts:
            closest = min(closest, first.advance + kern + second.left + min(starts) - (first.left + max(ends)) - 1)
    return closest


def _columns(glyph: Glyph, row: int) -> list[int]:
    """Columns with ink, from the glyph's left edge, in a row above the baseline."""
    if not glyph.bottom <= row < glyph.top:
        return []
    return np.flatnonzero(glyph.levels[glyph.top - 1 - row]).tolist()


def touching_pairs(lettering: Lettering, texts: list[str]) -> list[tuple[int, int]]:
    """Pairs that follow one another in these texts and whose ink touches."""
    pairs = {(ord(a), ord(b)) for text in texts for a, b in pairwise(text)}
    inked = {glyph.code: glyph for glyph in lettering.glyphs if glyph.width}
    both = [(a, b) for a, b in pairs if a in inked and b in inked]
    return sorted((a, b) for a, b in both if gap_between(inked[a], inked[b], lettering.kern(a, b)) < 1)


def letters_touch(subject: LetteringSubject) -> list[Finding]:
    """Letters of the build's texts that run into one another."""
    lettering = subject.made.lettering
    texts = [widest(text, lettering)[0] for text in subject.texts] or [subject.plan.sample]
    touching = touching_pairs(lettering, texts)
    if not touching or subject.plan.bits > 1:
        return []
    shown = ", ".join(f"{chr(a)}{chr(b)}" for a, b in touching[:SHOWN])
    return [
        Finding(
            "lettering.letters-touch", "worth fixing", "Space", f"{len(touching)} pairs of letters touch: {shown}",
            "At this size two letters grow into one shape, rn reads as m.",
            Fix("Space them by 1 px more", "lettering", {"spacing": subject.plan.spacing + 1}),
        )
    ]  # fmt: skip


def alike(lettering: Lettering, made_alike: set[int]) -> list[str]:
    """Groups of letters and digits that have the same pixels at the same place."""
    groups: dict[tuple[Any, ...], str] = {}
    for glyph in lettering.glyphs:
        if glyph.code < 0x80 and chr(glyph.code).isalnum() and glyph.code not in made_alike:
            key = (glyph.left, glyph.top, glyph.advance, glyph.levels.shape, glyph.levels.tobytes())
            groups[key] = groups.get(key, "") + chr(glyph.code)
    return [group for group in groups.values() if len(group) > 1]


def characters_look_alike(subject: LetteringSubject) -> list[Finding]:
    """Letters and digits that the rendering made the same."""
    groups = alike(subject.made.lettering, set(subject.made.replaced))
    if not groups or subject.plan.face == "segments":
        return []
    return [
        Finding(
            "lettering.look-alike", "worth fixing", "Render", f"Cannot be told apart: {', '.join(groups[:SHOWN])}",
            "They have the same pixels at this size; another face or size parts them, or one is touched up at the glyph bench.",
        )
    ]  # fmt: skip


def digits_jump(subject: LetteringSubject) -> list[Finding]:
    """Values whose digits take different room."""
    lettering = subject.made.lettering
    advances = {lettering.by_code[code].advance for code in range(0x30, 0x3A) if code in lettering.by_code}
    if len(advances) < 2 or not any(text.has_numbers for text in subject.texts):
        return []
    return [
        Finding(
            "lettering.digits-jump", "worth fixing", "Space", f"Digits take {min(advances)} to {max(advances)} px",
            "What stands behind a value jumps as the value changes.",
            Fix("Give all digits the same room", "lettering", {"tabular": True}, f"then {max(advances)} px each"),
        )
    ]  # fmt: skip


def levels_not_on_panel(subject: LetteringSubject) -> list[Finding]:
    """Grey lettering on a panel that has nothing between its two colours, or fewer levels."""
    plan = subject.plan
    count = shade_count(subject.device.passport, plan.ink, plan.ground, plan.bits)
    bits = next(b for b in (1, 2, 4) if count <= 1 << b)
    if bits >= plan.bits:
        return []
    smaller = len(subject.packed.pixels) * bits // plan.bits
    return [
        Finding(
            "lettering.levels-not-on-panel", "worth fixing", "Render",
            f"Of {1 << plan.bits} levels this panel shows {count} between these colours",
            "The rest costs flash and is not seen.",
            Fix(f"Keep {bits} bit a pixel", "lettering", {"bits": bits}, f"then about {smaller:,} B of pixels"),
        )
    ]  # fmt: skip


def characters_never_shown(subject: LetteringSubject) -> list[Finding]:
    """Glyphs in flash that none of the build's texts shows."""
    made, plan = subject.made, subject.plan
    if not subject.texts or plan.preset == SCREENS:
        return []
    used = {ord(character) for character in characters_used(subject.texts)} | {use.code for use in plan.pictures}
    kept = tuple(g for g in made.lettering.glyphs if g.code in used)
    unused = len(made.lettering.glyphs) - len(kept)
    lettering = made.lettering
    smaller = Lettering(lettering.name, kept, lettering.ascent, lettering.descent, lettering.bits, lettering.kerning)
    saved = subject.packed.flash_bytes - pack(smaller, plan.box, subject.packed.order, plan.compression).flash_bytes
    if not kept or unused < len(kept) or saved < WASTED_BYTES:
        return []
    return [
        Finding(
            "lettering.never-shown", "worth fixing", "Characters",
            f"No text of this build shows {unused} of {len(lettering.glyphs)} characters",
            f"They take {saved:,} B of flash.",
            Fix("Keep what the texts need", "lettering", {"preset": SCREENS, "more": ""}, f"{len(kept)} left, {saved:,} B less"),
        )
    ]  # fmt: skip


def edits_set_aside(subject: LetteringSubject) -> list[Finding]:
    """Glyphs touched up at another size than this."""
    aside = list(subject.made.set_aside)
    if not aside:
        return []
    sizes = sorted({t.em_px for t in subject.plan.glyph_edits if t.code in set(aside) and t.em_px != subject.made.size.em_px})
    told = ", ".join(f"{size:g}" for size in sizes)
    back = next((int(size) for size in sizes if size == int(size)), 0)
    return [
        Finding(
            "lettering.edits-set-aside", "worth fixing", "Glyphs",
            f"{how_many(len(aside), 'glyph')} touched up at {told} px: {_listed(aside)}",
            "Pixels set by hand suit one size only; here the face's own are drawn. The touch-ups are kept.",
            Fix(f"Back to {back} px", "lettering", {"size_by": "pixels", "size_px": back}) if back else None,
        )
    ]  # fmt: skip


def embedding_not_allowed(subject: LetteringSubject) -> list[Finding]:
    """The font's maker does not allow it in a device without leave."""
    permission = subject.made.info.permission
    if not permission.is_doubtful:
        return []
    return [
        Finding(
            "lettering.embedding-not-allowed", "worth fixing", "Face",
            f"{subject.made.info.name}: {permission.words}",
            "The font says so itself (fsType). An open face, or its maker's licence, keeps you on the safe side.",
        )
    ]  # fmt: skip
