"""The ordered list of all faults. A new one is an entry in its module's list."""

from mosaic.conversion.program import Setting
from mosaic.faults import arrays, panel, program, setup
from mosaic.faults.fault import Fault
from mosaic.registry import Registry

FAULTS: Registry[Fault] = Registry(
    "fault",
    (*panel.FAULTS, *arrays.FAULTS, *setup.FAULTS, *program.FAULTS),
    lambda fault: f"{fault.where}.{fault.slug}",
)


def faults_of(setting: Setting) -> list[tuple[str, Fault]]:
    """(name, fault) of those that can happen on this panel."""
    return [(name, fault) for name, fault in FAULTS.items() if fault.possible(setting)]
