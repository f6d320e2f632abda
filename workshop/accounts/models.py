"""People who own builds."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    """A maker. `workshop_name` heads the workshop page. `leaves` : when the account was deleted; signing in brings it back."""

    workshop_name = models.CharField(max_length=80, blank=True, default="")
    leaves = models.DateTimeField(null=True, default=None)

    @property
    def workshop_title(self) -> str:
        return self.workshop_name or f"{self.username}'s workshop"


class SentForm(models.Model):
    """A form that was sent, so that a second press of its button has the answer of the first. Kept for minutes."""

    key = models.CharField(max_length=64, primary_key=True)
    created = models.DateTimeField(auto_now_add=True)
    answered = models.DateTimeField(null=True, default=None)
    location = models.CharField(max_length=2000, blank=True, default="")

    class Meta:
        indexes = [models.Index(fields=["created"])]
