"""All calculators, in the order in which they lie on the desk. A new one is an entry here."""

from mosaic.desk.calculator import Calculator
from mosaic.desk.pictures import BYTES, FRAME_TIME, WINDOWS
from mosaic.desk.power import RUNTIME
from mosaic.desk.seen import CAPITALS, NEAREST, ROUND, TEXT_GRID
from mosaic.desk.wires import BAUD, LEVEL, PULL_UPS
from mosaic.registry import Registry

CALCULATORS: Registry[Calculator] = Registry(
    "calculator",
    (BYTES, FRAME_TIME, WINDOWS, PULL_UPS, LEVEL, BAUD, RUNTIME, CAPITALS, TEXT_GRID, NEAREST, ROUND),
    lambda calculator: calculator.slug,
)
