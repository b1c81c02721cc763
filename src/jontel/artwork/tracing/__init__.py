"""From pixels to shapes: which flat colours a picture has, which pixel is of which, and the outlines of each."""

from jontel.artwork.tracing.labels import Labelled, labelled
from jontel.artwork.tracing.outlines import outlines_of
from jontel.artwork.tracing.palette import Palette, palette_of

__all__ = ["Labelled", "Palette", "labelled", "outlines_of", "palette_of"]
