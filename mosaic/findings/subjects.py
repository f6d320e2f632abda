"""What rules are handed: a device with its budgets, or one picture on it."""

from dataclasses import dataclass

from mosaic.conversion.stages import Converted
from mosaic.device.budget import Budget
from mosaic.device.device import Device
from mosaic.imports.pictures import SourcePicture
from mosaic.reduce.recipe import Recipe


@dataclass(frozen=True)
class DeviceSubject:
    """A device, its budgets and how many pictures it keeps."""

    device: Device
    budgets: tuple[Budget, ...]
    picture_count: int

    def budget(self, slug: str) -> Budget:
        return next(b for b in self.budgets if b.slug == slug)


@dataclass(frozen=True, eq=False)
class PictureSubject:
    """One picture as it is taken, reduced and shown."""

    device: Device
    recipe: Recipe
    source: SourcePicture
    converted: Converted
