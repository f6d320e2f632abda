"""What rules are handed: a device with its budgets, one picture on it, or one lettering."""

from dataclasses import dataclass

from mosaic.conversion.pipeline import Converted
from mosaic.device.budget import Budget
from mosaic.device.device import Device
from mosaic.imports.pictures import SourcePicture
from mosaic.lettering.making import Made
from mosaic.lettering.packing import Packed
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.texts import FieldText
from mosaic.reduce.recipe import Recipe
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Element


@dataclass(frozen=True)
class DeviceSubject:
    """A device and its budgets."""

    device: Device
    budgets: tuple[Budget, ...]

    def budget(self, slug: str) -> Budget:
        return next(b for b in self.budgets if b.slug == slug)


@dataclass(frozen=True, eq=False)
class PictureSubject:
    """One picture as it is taken, reduced and shown."""

    device: Device
    recipe: Recipe
    source: SourcePicture
    converted: Converted


@dataclass(frozen=True, eq=False)
class ScreenSubject:
    """One screen as it is drawn: in its typical state, and in all that matter."""

    device: Device
    rendered: Rendered
    looks: tuple[Rendered, ...] = ()

    def called(self, element: Element) -> str:
        """An element in words."""
        return self.rendered.kit.called(element)


@dataclass(frozen=True, eq=False)
class LetteringSubject:
    """One lettering as it is made and packed, and the texts that the build shows."""

    device: Device
    plan: LetteringPlan
    made: Made
    packed: Packed
    texts: tuple[FieldText, ...]
