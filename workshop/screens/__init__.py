"""Station 5, Screens & behaviour."""
