"""Commands that serve."""
