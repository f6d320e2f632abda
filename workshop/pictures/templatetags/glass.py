"""The address of a saved picture's image."""

from django import template

from workshop.builds.models import Picture
from workshop.pictures.station import glass_address

register = template.Library()


@register.filter
def glass_url(picture: Picture) -> str:
    """Of the picture as it is saved; its derived figures must be up to date."""
    return glass_address(picture, picture.derived["glass_key"])
