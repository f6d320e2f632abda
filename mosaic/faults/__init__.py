"""Mistakes between a picture and its glass: what each looks like, why it happens, and what mends it."""
