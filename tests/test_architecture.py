"""The import contracts hold, and they would notice if they did not."""

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent


def lint(folder: Path) -> subprocess.CompletedProcess:
    command = [str(Path(sys.executable).parent / "lint-imports"), "--no-cache", "--config", str(folder / "pyproject.toml")]
    return subprocess.run(
        command, cwd=folder, capture_output=True, text=True, env={"PYTHONPATH": str(folder), "PATH": "/usr/bin:/bin"}
    )


def test_contracts_are_kept():
    done = lint(ROOT)
    assert done.returncode == 0, done.stdout


@pytest.mark.parametrize(
    ("module", "line", "broken"),
    [
        ("virtual/page.py", "from mosaic.pixels.indexed import pack_indexed", "The proof is not circular"),
        ("virtual/base.py", "import mosaic.conversion.pipeline", "The proof is not circular"),
        ("reduce/tone.py", "import django", "The core knows no web framework"),
        ("device/budget.py", "import workshop.settings", "The core knows no web framework"),
        ("color/lab.py", "import mosaic.panels.loader", "a later package may import an earlier one"),
        ("../workshop/lettering/pages.py", "import workshop.pictures.reports", "none imports another"),
        ("../workshop/builds/services.py", "import workshop.lettering.documents", "none imports another"),
        ("../workshop/jobs/tasks.py", "import workshop.stations.overview", "none imports another"),
        ("../workshop/stations/overview.py", "import workshop.home.origins", "none imports another"),
        ("../workshop/documents/services.py", "import workshop.builds.models", "none imports another"),
    ],
)
def test_a_seeded_import_breaks_its_contract(tmp_path, module, line, broken):
    for name in ("mosaic", "workshop"):
        shutil.copytree(ROOT / name, tmp_path / name, ignore=shutil.ignore_patterns("__pycache__", "static", "templates"))
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    path = tmp_path / "mosaic" / module
    path.write_text(path.read_text() + f"\n{line}  # noqa\n")
    done = lint(tmp_path)
    assert done.returncode == 1
    assert any(broken in row and "BROKEN" in row for row in done.stdout.splitlines())
