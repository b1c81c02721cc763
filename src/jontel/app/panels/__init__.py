"""Panels: what a stage shows at the right, for the selection or the whole design."""
