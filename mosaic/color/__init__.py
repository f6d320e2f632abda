"""Colour: sRGB and linear light, CIELAB, palettes, gamuts and the eye."""
