"""Panels: passports and their catalogue, geometry under rotation, and what to put on the wire."""
