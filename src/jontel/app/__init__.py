"""Everything Qt: one place that owns the open designs, views that draw, tools that edit, panels that tune."""
