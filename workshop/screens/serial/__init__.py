"""The serial line of panels that draw by themselves: map, frames, line, slots."""
