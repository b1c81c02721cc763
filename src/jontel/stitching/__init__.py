"""From an object to its stitches: covers, underlay, compensation, ends. Pure functions on arrays."""
