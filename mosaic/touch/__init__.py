"""Touch panels: from raw readings to pixels, by a fit that says how good it is."""
