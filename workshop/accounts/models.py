"""People who own builds."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """A maker. `workshop_name` heads the workshop page."""

    workshop_name = models.CharField(max_length=80, blank=True, default="")

    @property
    def workshop_title(self) -> str:
        return self.workshop_name or f"{self.username}'s workshop"
