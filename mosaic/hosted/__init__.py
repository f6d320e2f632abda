"""Frames that a host computes: drawings in SVG and pages in HTML, with values in them, brought to a panel's colours."""
