"""Lettering: characters as pixels, rasterised from outlines or read from bitmap fonts, measured, packed and written."""
