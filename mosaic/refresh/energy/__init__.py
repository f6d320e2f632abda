"""How long a cell lasts: what draws how much, through which supply, and what would change it."""
