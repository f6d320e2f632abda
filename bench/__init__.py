"""Speed, as ratios in one run. Not part of the tests: a busy machine must not fail them."""
