"""Counts in words."""


def many(count: int, what: str, plural: str | None = None) -> str:
    """A count with its noun, ``1 object`` or ``3 objects``."""
    return f"{count} {what if count == 1 else plural or what + 's'}"


def stitches(count: int) -> str:
    """So many stitches."""
    return many(count, "stitch", "stitches")
