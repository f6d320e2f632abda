"""What runs on the board: drawing in plain Python and in C99, by the rules of `docs/drawing.md`."""
