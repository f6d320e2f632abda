"""Findings: what is wrong or risky, why it matters on the bench, and what mends it."""

from dataclasses import dataclass, field
from typing import Any, Literal

Severity = Literal["must fix", "worth fixing"]


@dataclass(frozen=True)
class Fix:
    """What mends a finding: a button's words, the fields it changes, and what the number is then."""

    label: str
    target: Literal["recipe", "device", "lettering", "screen", "behaviour", "program", "serial"]
    changes: dict[str, Any] = field(hash=False)
    then: str = ""


@dataclass(frozen=True)
class Finding:
    """One finding. `what` is a fact with its figure, `why` one sentence on what it does on the bench."""

    id: str
    severity: Severity
    where: str
    what: str
    why: str
    fix: Fix | None = None
