"""Compressed arrays: there and back, against a general tool, and by their own decoders in C and Python."""

import json
import subprocess
import sys
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from mosaic.errors import BadValueError
from mosaic.exports.registry import export
from mosaic.pixels.compression import COMPRESSIONS, compressed_sizes
from mosaic.reduce.recipe import Recipe
from tests.mosaic.exports.test_exports import FOUR, MONO, result_for

# Compiling a kernel for the first time is no part of a test.
for way in COMPRESSIONS.values():
    way.expand(way.compress(b"aab"))

# Long and short runs, so that every piece of a compression occurs.
streams = st.lists(st.tuples(st.integers(0, 3), st.sampled_from([1, 1, 2, 3, 127, 128, 129, 255, 256, 400])), max_size=12).map(
    lambda runs: b"".join(bytes([value]) * count for value, count in runs)
)


@pytest.mark.parametrize("name", COMPRESSIONS)
class TestEveryWay:
    @given(data=streams | st.binary(max_size=600))
    def test_comes_back(self, name, data):
        assert COMPRESSIONS[name].expand(COMPRESSIONS[name].compress(data)) == data

    def test_compressed_picture_expands_in_c_and_python(self, name, tmp_path):
        result = replace(result_for(FOUR), recipe=Recipe(compression=name))
        word = result.identifier
        (tmp_path / "p.py").write_bytes(export(result, "py"))
        if name == "none":
            assert export(result, "bin") == result.packed
            return
        (tmp_path / "p.h").write_bytes(export(result, "h"))
        (tmp_path / "main.c").write_text(
            '#include <stdio.h>\n#include "p.h"\nstatic void put(uint8_t byte, void *with) { putc(byte, (FILE *)with); }\n'
            f"int main(void) {{ {word}_expand(put, stdout); return 0; }}\n"
        )
        flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic"]
        subprocess.run(["gcc", *flags, "main.c", "-o", "show"], cwd=tmp_path, check=True)
        assert subprocess.run([tmp_path / "show"], capture_output=True, check=True).stdout == result.packed
        code = f"import p, sys; sys.stdout.buffer.write(p.{word}_expand())"
        done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, check=True)
        assert done.stdout == result.packed
        (tmp_path / "p.c").write_bytes(export(result, "c"))
        subprocess.run(["gcc", *flags, "-c", "p.c"], cwd=tmp_path, check=True)


@given(streams.filter(len))
def test_packbits_is_read_by_a_general_tool(data):
    compressed = COMPRESSIONS["packbits"].compress(data)
    image = Image.frombytes("L", (len(data), 1), compressed, "packbits", "L")
    assert image.tobytes() == data


def test_sizes_told_by_hand():
    data = bytes(300) + b"\1\2\3" + b"\7\7"
    none, packbits, runs = compressed_sizes(data)
    assert (none.byte_count, none.pieces) == (305, 0)
    # 128 + 128 + 44 zeros take two bytes each; five plain bytes take six: the last two are no run.
    assert (packbits.byte_count, packbits.pieces) == (12, 4)
    # 255 + 45 zeros, three single bytes, one pair.
    assert (runs.byte_count, runs.pieces) == (12, 6)


def test_broken_data_is_told():
    with pytest.raises(BadValueError, match="breaks off"):
        COMPRESSIONS["packbits"].expand(b"\x05\x01")
    with pytest.raises(BadValueError, match="pairs"):
        COMPRESSIONS["run-length"].expand(b"\x05\x01\x02")


def test_a_mask_is_a_second_array(tmp_path):
    """Of a 128 x 64 picture whose right half is see-through, packed in pages as the pixels are: 64 bytes of ones, 64 of zeros."""
    coverage = np.zeros((64, 128), bool)
    coverage[:, :64] = True
    result = replace(result_for(MONO), coverage=coverage)
    (tmp_path / "p.h").write_bytes(export(result, "h"))
    (tmp_path / "main.c").write_text(
        '#include <stdio.h>\n#include "p.h"\n'
        "int main(void) { return fwrite(slip_at_dusk_mask, 1, sizeof slip_at_dusk_mask, stdout) == 1024u ? 0 : (int)slip_at_dusk[0]; }\n"
    )
    subprocess.run(["gcc", "-std=c99", "-Wall", "-Werror", "main.c", "-o", "show"], cwd=tmp_path, check=True)
    shown = subprocess.run([tmp_path / "show"], capture_output=True, check=True).stdout
    assert shown == (b"\xff" * 64 + b"\0" * 64) * 8
    (tmp_path / "p.py").write_bytes(export(result, "py"))
    code = "import p, sys; sys.stdout.buffer.write(p.slip_at_dusk_mask)"
    assert subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, check=True).stdout == shown
    assert "mask_base64" in json.loads(export(result, "json"))
