"""Serial panels that draw by themselves: the map of their memory, frames on the line, its budget, slots, and a stand-in."""
