"""Boards: memory, limits and currents, described rather than named."""
