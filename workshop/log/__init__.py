"""Station 8: what happened with a build, what was measured, its versions and its book."""
