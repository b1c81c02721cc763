"""Rows of a fill or an open pass: how they are laid, in which order, and the hidden travel between them."""
