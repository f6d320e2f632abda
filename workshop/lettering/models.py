"""Proxies of documents that Django is to know as models of this part."""

from workshop.lettering.documents import Lettering, TextsDocument

__all__ = ["Lettering", "TextsDocument"]
