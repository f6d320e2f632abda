"""Wiring: which pin of a panel goes to which pin of a board, proposed and checked."""
