"""Curves, outlines, rows, columns and bands: plain geometry on arrays, in mm."""
