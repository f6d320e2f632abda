"""Buoys."""

from dataclasses import dataclass
from typing import Literal

from workshop.documents.models import Document


@dataclass(frozen=True)
class BuoyPlan:
    bells: int = 1
    form: Literal[1] = 1


class Buoy(Document):
    KIND, NOUN, RECORD, PAGE, LIST_PAGE = "buoy", "buoy", BuoyPlan, "buoy", "buoys"

    class Meta:
        proxy = True
        app_label = "documents"
