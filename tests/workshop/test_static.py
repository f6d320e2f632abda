"""Static files as they are collected for serving."""

import json
import re
from pathlib import Path

from django.core.management import call_command
from django.test import override_settings

from workshop import settings as real

SCRIPTS = Path(real.BASE_DIR) / "workshop" / "static" / "scripts"


def test_all_files_are_collected_and_modules_find_each_other(tmp_path):
    """Every script's imports go by names that hold the key of what they name, and lead to files that are there."""
    storages = {**real.STORAGES, "staticfiles": {"BACKEND": "workshop.look.storage.StaticStorage"}}
    # compressing them is the library's and takes longest
    plain = ("js", "css", "svg", "txt", "json", "map")
    with override_settings(STORAGES=storages, STATIC_ROOT=tmp_path, DEBUG=False, WHITENOISE_SKIP_COMPRESS_EXTENSIONS=plain):
        call_command("collectstatic", interactive=False, verbosity=0)
    named = json.loads((tmp_path / "staticfiles.json").read_text())["paths"]
    for script in SCRIPTS.rglob("*.js"):
        name = f"scripts/{script.relative_to(SCRIPTS)}"
        made = tmp_path / named[name]
        for wanted in re.findall(r'^import .* from "(\.[^"]+)"', made.read_text(), re.M):
            assert re.search(r"\.[0-9a-f]{12}\.js$", wanted), (name, wanted)
            assert (made.parent / wanted).resolve().is_file(), (name, wanted)
    assert named["scripts/lib/line.js"] != "scripts/lib/line.js"
