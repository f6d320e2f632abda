"""The made-up Saltmarsh Boathouse: what its makers have on the bench, and pictures painted by code. Plain data."""
