"""A device's day on a time line: what its program reads, draws, sends and waits for, in virtual time."""
