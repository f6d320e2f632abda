"""Entries of a build's log: what stations and makers write, below all stations."""
