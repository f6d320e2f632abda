"""The field desk: calculators without a build, whose addresses carry their figures."""
