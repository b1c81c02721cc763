"""Pictures and vectors in, and from artwork to objects."""
