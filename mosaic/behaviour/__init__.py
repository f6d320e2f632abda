"""What a device does: inputs, rules, outputs, and the running device as a pure step function."""
