"""Screens: what stands where on the glass, placed by what is meant, drawn by `mosaic.drawing`, and given out as code."""
