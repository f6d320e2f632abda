"""A list of drawings that the maker's own board times, and what its answers say about it."""
