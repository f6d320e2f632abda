"""What a trial keeps of a build: its parts, what is wired to what, its set-up card, and what stands of other stations."""

from mosaic.device.device import Device
from mosaic.wiring.signals import signals_of
from workshop.builds.models import Build
from workshop.journal.services import MOST_SETUP, state_of
from workshop.stations import stations


def state_with_stations(build: Build) -> str:
    """The build in few words, with what its stations say of it, such as the number of its last hand-over."""
    return "; ".join([state_of(build), *filter(None, (station.as_it_stands(build) for station in stations()))])[:300]


def setup_in_words(device: Device) -> str:
    """Wires, tools with their versions, options, memory and settings of the tools, a line each."""
    lines = []
    if device.wiring is not None:
        for signal in signals_of(device.passport, device.link_kind):
            lines.append(f"{signal.label} to {device.wiring.to_of(signal.label) or 'nothing'}")
    card = device.setup_card
    if card is not None:
        lines += [f"{tool.name} {tool.version}".strip() for tool in card.tools]
        lines += [f"{option.name}: {option.value}" for option in card.options]
        lines += [f"{part.name}: {part.size_bytes:,} B" for part in card.memory]
        lines += [card.loading] if card.loading else []
    return "\n".join(lines)[:MOST_SETUP]
