"""Values that a device shows: how they are printed, without floating point, equal on the page and on the board."""
