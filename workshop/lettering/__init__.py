"""Station 4, Lettering: faces to glyphs, characters, the glyph bench, measuring, packing."""
