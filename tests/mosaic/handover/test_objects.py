"""Objects are taken again only where source, headers and words are the same, and only where nothing was said."""

import pytest

from mosaic.handover import objects


@pytest.fixture
def folder(tmp_path, monkeypatch):
    monkeypatch.setattr(objects, "_kept", objects._kept.__class__())
    for name, text in {
        "src/a.c": '#include "a.h"\n',
        "src/a.h": '# include "deep.h"\n#include <stdio.h>\n',
        "pc/deep.h": "int a;\n",
    }.items():
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text(text)
    return tmp_path


def asked(folder, words=("cc",), said=(0, "")) -> int:
    """How often the compiler was run."""
    runs = []

    def run(given):
        runs.append(given)
        (folder / "a.o").write_bytes(b"object")
        return said

    (folder / "a.o").unlink(missing_ok=True)
    assert objects.compiled(words, "src/a.c", folder, folder / "a.o", run) == (said if runs else (0, ""))
    assert (folder / "a.o").read_bytes() == b"object"
    return len(runs)


def test_the_same_is_compiled_once(folder):
    assert [asked(folder), asked(folder), asked(folder, ("cc", "-O1")), asked(folder, ("cc", "-O1"))] == [1, 0, 1, 0]


@pytest.mark.parametrize("changed", ["src/a.c", "src/a.h", "pc/deep.h"])
def test_a_changed_file_is_compiled_again(folder, changed):
    assert asked(folder) == 1
    (folder / changed).write_text((folder / changed).read_text() + "int b;\n")
    assert [asked(folder), asked(folder)] == [1, 0]


@pytest.mark.parametrize("said", [(1, ""), (0, "a warning")])
def test_what_was_not_clean_is_not_kept(folder, said):
    assert [asked(folder, said=said), asked(folder)] == [1, 1]


def test_no_more_are_kept_than_fit(folder, monkeypatch):
    monkeypatch.setattr(objects, "KEPT", 2)
    assert [asked(folder, (word,)) for word in "abcba"] == [1, 1, 1, 0, 1]
    monkeypatch.setattr(objects, "LARGEST_BYTES", 5)
    assert [asked(folder, ("d",)), asked(folder, ("d",))] == [1, 1]
