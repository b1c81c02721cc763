"""The stand-in machine: what a real head would do with a stitch file, and what it would refuse."""
