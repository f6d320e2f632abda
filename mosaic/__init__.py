"""The core of Fine Mosaic: rules and computation for pixel displays, without any interface.

Everything taken and given is a plain value: frozen dataclasses, NumPy arrays with documented
shape and dtype, and bytes. Nothing here opens a network connection, knows a database or
imports the web framework; `docs/architecture.md` gives the order in which packages may import
one another.
"""

__version__ = "0.1.0"
