"""Pixel formats as data, and the way between pixels and packed bytes for every one of them."""
