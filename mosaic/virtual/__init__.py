"""The virtual panel: takes what goes over the wire and shows what the glass would.

It moves bytes by its own address counters, from reset through the passport's set-up sequence,
as the device would. It knows nothing of how pictures are packed: nothing here may import
`mosaic.pixels`' packing or unpacking, and an import contract in the tests holds it to that.
"""
