"""What station 3 makes, as documents: pictures, strips, segmented figures, animations."""

from typing import Any

from mosaic.animation.making import AnimationPlan
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, recipe_from_plain, recipe_to_plain
from mosaic.segments.figure import FigurePlan
from mosaic.strips.cutting import StripPlan
from workshop.documents.models import Document, Original
from workshop.documents.originals import keep_picture


class OfPictureFiles:
    """What is made of picture files: how one that comes with a document is checked and kept."""

    KEEPABLE = True

    @classmethod
    def keep_source(cls, *, data: bytes, file_name: str, owner: Any) -> Original:
        return keep_picture(data=data, file_name=file_name, owner=owner)


class Picture(OfPictureFiles, Document):
    """A picture with its recipe. Pictures of one set share their recipe, but for crop, regions and touch-up."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "picture", "picture", Recipe, "picture", "pictures", 200

    class Meta:
        proxy = True

    @classmethod
    def read(cls, description: Any) -> Recipe:
        return recipe_from_plain(description)

    @classmethod
    def write(cls, record: Recipe) -> dict[str, Any]:
        METHODS[record.method]  # an unknown method must not be saved
        return recipe_to_plain(record)


class Strip(OfPictureFiles, Document):
    """A sheet of small pictures, cut into cells."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "strip", "strip", StripPlan, "strip", "strips", 60

    class Meta:
        proxy = True


class Figure(OfPictureFiles, Document):
    """A segmented figure: every symbol made of one drawing and a table."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "figure", "segmented figure", FigurePlan, "figure", "figures", 60

    class Meta:
        proxy = True


class Animation(OfPictureFiles, Document):
    """Frames of files, and how they are shown."""

    KIND, NOUN, RECORD, PAGE, LIST_PAGE, MOST = "animation", "animation", AnimationPlan, "animation", "animations", 60

    class Meta:
        proxy = True
