"""The cloth: the canvas with its hoop, rulers, artwork and stitches."""
