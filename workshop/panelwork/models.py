"""Proxies of documents that Django is to know as models of this part."""

from workshop.panelwork.documents import ReadingsDocument

__all__ = ["ReadingsDocument"]
