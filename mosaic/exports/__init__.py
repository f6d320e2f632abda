"""Writing results: source text for C and Python, raw bytes, and picture files.

`EXPORTERS` in `mosaic.exports.registry` lists them; each can be read back and is compared
with what was meant before it leaves the house.
"""
