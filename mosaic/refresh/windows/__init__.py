"""The cheapest windows that hold what has changed: `covering` is the door, the rest its parts."""
