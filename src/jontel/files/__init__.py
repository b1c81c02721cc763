"""Working files, stitch files, the production sheet, pictures out. Reads the core; draws nothing on a screen."""
