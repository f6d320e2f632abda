"""All words of buttons and headings, as templates have them: `python -m tests.words` writes docs/words.txt anew, to be read through."""

import re
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
LIST = ROOT / "docs" / "words.txt"
_ELEMENT = re.compile(r"<(button|h1|h2|h3|summary|legend)\b[^>]*>(.*?)</\1>", re.S)
_KEY = re.compile(r'<a\b[^>]*class="fm-key[^"]*"[^>]*>(.*?)</a>', re.S)
_TAG = re.compile(r"<[^>]+>|\{%.*?%\}|\{#.*?#\}", re.S)
_TERM = re.compile(r'\{% term "([^"]*)"(?: "([^"]*)")? %\}')
_VALUE = re.compile(r"\{\{.*?\}\}", re.S)


def _plain(text: str) -> str:
    text = _TERM.sub(lambda found: found[2] or found[1], text)
    text = _VALUE.sub("…", _TAG.sub(" ", text)).replace("&amp;", "&").replace("’", "'")
    return " ".join(text.split())


def collected() -> dict[str, set[str]]:
    """Words by kind, buttons and headings; what a template fills in stands as …."""
    found: dict[str, set[str]] = {"button": set(), "heading": set()}
    for path in sorted((ROOT / "workshop" / "templates").rglob("*.html")):
        text = path.read_text()
        for kind, inner in _ELEMENT.findall(text):
            found["button" if kind == "button" else "heading"].add(_plain(inner))
        found["button"] |= {_plain(inner) for inner in _KEY.findall(text)}
    return {kind: {words for words in all_ if re.search(r"[A-Za-z]{2}", words)} for kind, all_ in found.items()}


def text() -> str:
    """The list as it is kept."""
    return "".join(f"{kind}: {words}\n" for kind, all_ in collected().items() for words in sorted(all_))


if __name__ == "__main__":
    LIST.write_text(text())
