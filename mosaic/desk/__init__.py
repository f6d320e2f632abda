"""Calculators for a quick question, without a build. Each is an entry of `CALCULATORS` in `desk`."""
