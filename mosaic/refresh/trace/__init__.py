"""Traces of a current as meters write them: read, and what of a device is found in them."""
