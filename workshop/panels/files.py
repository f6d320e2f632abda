"""Descriptions as files."""

import json
from typing import Any

from django.http import HttpResponse


def json_text(plain: dict[str, Any]) -> str:
    """A description as text to read and edit."""
    return json.dumps(plain, indent=2, ensure_ascii=False)


def json_file(plain: dict[str, Any], name: str) -> HttpResponse:
    """A description to keep as a file."""
    response = HttpResponse(json_text(plain) + "\n", content_type="application/json; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
