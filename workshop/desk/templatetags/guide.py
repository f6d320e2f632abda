"""Which article of the field guide goes with a page."""

from typing import Any

from django import template

from mosaic.desk.arguments import ARGUMENTS
from mosaic.desk.calculator import Calculator

register = template.Library()
ALSO = {
    "refresh": "buffer-or-page", "picture": "dither-or-threshold", "trace": "clean-each-or-tenth", "hand-over": "array-or-file",
    "sizes": "array-or-file", "device": "press-or-release", "screen": "opaque-or-transparent", "windows": "opaque-or-transparent",
    "bringup-arrays": "byte-orders", "bringup-cards": "byte-orders",
}  # fmt: skip
"""Pages besides those that the examples lead to, by the names of their addresses."""


@register.simple_tag(takes_context=True)
def article_here(context: Any) -> Calculator | None:
    """The article on what the page is about; None where there is none."""
    match = getattr(context.get("request"), "resolver_match", None)
    name = match.url_name if match else ""
    slug = ALSO.get(name or "") or next((one.slug for one in ARGUMENTS.values() if one.page == name), "")
    return ARGUMENTS[slug] if slug else None
