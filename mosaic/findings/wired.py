"""What rules on wiring are handed: a device with its pin plan, and how a plan is mended."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, wraps

from mosaic.boards.board import Board, BoardPin
from mosaic.device.device import Device
from mosaic.findings import Finding, Fix, Severity
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import from_record
from mosaic.wiring.plan import PinPlan, pin_of
from mosaic.wiring.proposal import free_pin
from mosaic.wiring.signals import Signal, signals_of


@dataclass(frozen=True)
class Wired:
    """A device whose plan has been looked at."""

    subject: DeviceSubject
    plan: PinPlan

    @property
    def device(self) -> Device:
        return self.subject.device

    @property
    def board(self) -> Board:
        return self.device.board

    @cached_property
    def signals(self) -> tuple[Signal, ...]:
        return signals_of(self.device.passport, self.device.link_kind)

    def pin(self, signal: Signal) -> BoardPin | None:
        """The board's pin that a signal goes to."""
        return pin_of(self.board, self.plan.to_of(signal.label))

    def moved(self, signal: Signal) -> Fix | None:
        """The signal taken to the best pin that nothing uses yet."""
        to = free_pin(self.plan, self.board, signal)
        return self.taken_to(signal, to) if to else None

    def taken_to(self, signal: Signal, to: str) -> Fix:
        return mend(f"Take {signal.label} to {to}", self.plan.with_wire(signal.label, to))


def mend(label: str, plan: PinPlan, then: str = "") -> Fix:
    """A fix that lays another plan."""
    return Fix(label, "device", {"wiring": from_record(plan)}, then)


def told(id_: str, severity: Severity, what: str, why: str, fix: Fix | None = None) -> Finding:
    """A finding on wiring."""
    return Finding(f"wiring.{id_}", severity, "Wiring", what, why, fix)


def on_a_plan(rule: Callable[[Wired], list[Finding]]) -> Callable[[DeviceSubject], list[Finding]]:
    """A rule that says nothing as long as there is no plan."""

    @wraps(rule)
    def checked(subject: DeviceSubject) -> list[Finding]:
        plan = subject.device.wiring
        return [] if plan is None else rule(Wired(subject, plan))

    return checked
