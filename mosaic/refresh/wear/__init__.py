"""Wear of OLEDs: how long each pixel is lit, when a difference can be seen and where, and what helps."""
