"""The ordered list of all exporters. A new one is its module and one line here."""

from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.code import C_HEADER, C_SOURCE, PYTHON
from mosaic.exports.rasters import BMP, PBM, PGM, PNG, PPM, XBM
from mosaic.exports.raw import JSON, RAW
from mosaic.exports.result import Exporter, ExportResult
from mosaic.registry import Registry

EXPORTERS: Registry[Exporter] = Registry(
    "kind of file",
    (C_HEADER, RAW, PNG, C_SOURCE, PYTHON, XBM, PBM, PGM, PPM, BMP, JSON),
    lambda exporter: exporter.ending,
)


class NotProvenError(MosaicError):
    """A written file, read back, does not hold the result. This is a fault of ours, never passed over."""


def export(result: ExportResult, ending: str) -> bytes:
    """The file's bytes, read back and compared before they are given out.

    Raises
    ------
    UnknownNameError
        No exporter has this ending.
    BadValueError
        This kind of file cannot hold the result.
    NotProvenError
        The file, read back, differs.
    """
    exporter = EXPORTERS[ending]
    problem = exporter.problem(result.passport)
    if problem:
        raise BadValueError(f".{ending}: {problem}")
    data = exporter.write(result)
    if not exporter.check(data, result):
        raise NotProvenError(f".{ending}: the written file, read back, differs from the picture; it was not given out")
    return data
