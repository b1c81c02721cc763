"""Files as they come in: drawings of other formats become SVG at once, which is what is shown, digitized and kept."""

ENDINGS = ("svg", "pdf", "dxf", "png", "jpg", "jpeg", "webp", "bmp", "tif", "tiff", "gif")
"""What comes in, by the endings of files."""


def as_known(data: bytes, name: str) -> bytes:
    """A PDF's first page or a DXF as SVG; anything else as it is. Raises ``CannotRead``."""
    if is_pdf(data):
        from jontel.artwork.pdf import svg_of_pdf  # takes longer to load than the window

        return svg_of_pdf(data, name)
    if is_dxf(data):
        from jontel.artwork.dxf import svg_of_dxf

        return svg_of_dxf(data, name)
    return data


def is_pdf(data: bytes) -> bool:
    """Whether a file is a PDF, by its first bytes."""
    return b"%PDF-" in data[:1024]


def is_dxf(data: bytes) -> bool:
    """Whether a file is a DXF, by its first bytes."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    plain = head.split(b"\n", 2)
    return len(plain) > 1 and plain[0].strip() in (b"0", b"999") and b"SECTION" in head.upper()
