"""Drawing in the panel's own values, by the rules of `docs/drawing.md`, equal to what the board's runtimes draw."""
