"""Jontel: turns artwork into embroidery that is right on the first sew-out."""

__version__ = "0.1.0"
