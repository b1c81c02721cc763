"""Words in a font, set as outlines that are sewn. No Qt."""
