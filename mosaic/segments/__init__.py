"""Segmented figures: every symbol of a display made of one drawn figure."""
