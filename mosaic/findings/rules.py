"""The ordered lists of all rules. A new rule is a function, one line here and a test."""

from collections.abc import Callable

from mosaic.findings import (
    Finding,
    lettering,
    levels,
    limits,
    memory,
    mounting,
    pictures,
    pins,
    screens,
    sending,
    setup_card,
    values,
)
from mosaic.findings.subjects import DeviceSubject, LetteringSubject, PictureSubject, ScreenSubject

Rules = tuple[Callable[[DeviceSubject], list[Finding]], ...]

WIRING_RULES: Rules = (
    pins.cannot_work,
    levels.levels_apart,
    pins.lines_left_open,
    pins.pins_used_twice,
    pins.pins_that_do_not_suit,
    pins.serial_lines_not_crossed,
    levels.rails_out_of_order,
    levels.light_on_at_power_up,
    levels.address_in_its_8_bit_form,
    levels.addresses_clash,
    levels.pull_ups,
    levels.supply_current,
    levels.supply_pin_too_weak,
    levels.address_of_another_strap,
    levels.link_faster_than_allowed,
    pins.bus_on_ordinary_pins,
    pins.select_tied_on_a_shared_bus,
    pins.devices_not_selected,
    pins.program_says_otherwise,
    pins.straps_to_move,
)

SETUP_CARD_RULES: Rules = (
    setup_card.memory_parts_too_large,
    setup_card.program_larger_than_its_part,
    setup_card.files_larger_than_their_part,
    setup_card.edits_made_for_another_version,
    setup_card.versions_left_open,
)

SENDING_RULES: Rules = (sending.program_sends_otherwise, sending.arrays_of_another_size)

MOUNTING_RULES: Rules = (mounting.bezel_hides_pixels,)

BUFFER_RULES: Rules = (memory.scan_needs_its_frame, memory.scan_starves_memory, memory.frame_buffer_larger_than_ram)

FRAME_RULES: Rules = (limits.frame_time_over_limit, limits.link_slower_than_it_could_be)

LIMIT_RULES: Rules = (
    memory.tables_larger_than_ram,
    memory.contents_larger_than_flash,
    limits.updates_follow_too_closely,
    limits.energy_over_limit,
)

DEVICE_RULES: Rules = (
    *WIRING_RULES,
    *SETUP_CARD_RULES,
    *SENDING_RULES,
    *MOUNTING_RULES,
    *BUFFER_RULES,
    *FRAME_RULES,
    *LIMIT_RULES,
)

PICTURE_RULES: tuple[Callable[[PictureSubject], list[Finding]], ...] = (
    pictures.one_color_only,
    pictures.source_smaller_than_panel,
    pictures.fine_lines_lost,
    pictures.saturation_lost,
    pictures.colors_change_their_name,
)

LETTERING_RULES: tuple[Callable[[LetteringSubject], list[Finding]], ...] = (
    lettering.characters_missing,
    lettering.pictures_gone,
    lettering.characters_without_ink,
    lettering.no_size_serves,
    lettering.texts_too_wide,
    lettering.capitals_too_small,
    lettering.ink_and_ground_alike,
    lettering.letters_touch,
    lettering.characters_look_alike,
    lettering.digits_jump,
    lettering.levels_not_on_panel,
    lettering.characters_never_shown,
    lettering.edits_set_aside,
    lettering.embedding_not_allowed,
)


SCREEN_RULES: tuple[Callable[[ScreenSubject], list[Finding]], ...] = (
    screens.lettering_gone,
    screens.outside_the_glass,
    screens.under_round_edge_or_bezel,
    screens.text_over_text,
    screens.hidden_by_others,
    screens.across_the_zones,
    screens.glyphs_missing,
    screens.capitals_too_small,
    screens.contrast_too_low,
    screens.colors_change,
    screens.thin_light_lines,
    screens.opaque_over_neighbours,
    screens.not_shown_as_meant,
    values.values_gone,
    values.too_wide_for_their_place,
    values.looks_measured,
    values.beyond_their_range,
    values.units_differ,
    values.known_point_missed,
    values.digits_jump,
    values.words_move,
    values.rounding_hides,
    values.off_the_window_grid,
    values.bright_for_ever,
    values.slower_than_its_values,
    values.nothing_changes,
)


def device_findings(subject: DeviceSubject, rules: Rules = DEVICE_RULES) -> list[Finding]:
    """What these rules find on a device, worst first."""
    return _worst_first([finding for rule in rules for finding in rule(subject)])


def picture_findings(subject: PictureSubject) -> list[Finding]:
    """All findings on a picture, worst first."""
    return _worst_first([finding for rule in PICTURE_RULES for finding in rule(subject)])


def screen_findings(subject: ScreenSubject) -> list[Finding]:
    """All findings on a screen, worst first."""
    return _worst_first([finding for rule in SCREEN_RULES for finding in rule(subject)])


def lettering_findings(subject: LetteringSubject) -> list[Finding]:
    """All findings on a lettering, worst first."""
    return _worst_first([finding for rule in LETTERING_RULES for finding in rule(subject)])


def _worst_first(findings: list[Finding]) -> list[Finding]:
    return sorted(findings, key=lambda finding: finding.severity != "must fix")
