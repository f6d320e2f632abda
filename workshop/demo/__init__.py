"""The made-up Saltmarsh Boathouse: its builds, and pictures painted by code."""
