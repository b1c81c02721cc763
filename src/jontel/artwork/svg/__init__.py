"""SVG in, as its standard says: styles, views, strokes, clips and masks; what has no stitches is told."""

from jontel.artwork.svg.reader import read_svg

__all__ = ["read_svg"]
