"""A station that only tests know."""
