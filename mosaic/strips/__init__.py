"""Strips: a sheet of small pictures cut into cells."""
