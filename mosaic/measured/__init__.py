"""What a maker has measured beside what was predicted: quantities, readings as they are written, factors."""
