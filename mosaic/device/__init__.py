"""A whole device: panel, board, link and supply, and what they allow."""
