"""Path data as text: reading the canonical subset, and moving it, without any geometry."""

import re
from collections.abc import Iterator
from contextlib import suppress

import msgspec
from msgspec.structs import replace

from jontel.design.errors import CannotRead
from jontel.design.kinds.values import value_of
from jontel.design.shapes import Area, Column, Corrections, Line, Lines, Point, Shape

Matrix = tuple[float, float, float, float, float, float]
"""``(a, b, c, d, e, f)`` as in SVG: x' = a x + c y + e, y' = b x + d y + f."""

DECIMALS = 4
"""Path data is written to a tenth of a micrometre of cloth."""
WIDTH = value_of(Line, "width")
_NUMBERS_OF = {"M": 2, "L": 2, "C": 6, "Q": 4, "Z": 0}
_WRITTEN = {letter: letter + " ".join([f"%.{DECIMALS}f"] * count) for letter, count in _NUMBERS_OF.items()}
_LETTERS, _BETWEEN = "".join(_NUMBERS_OF), b"0123456789.eE+-, \t\n\r\f\v"
_NUMBERS = msgspec.json.Decoder(list[list[float]])
_TOKEN = re.compile(r"([MLCQZ])|([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)|([^\s,])")


def commands(path: str) -> Iterator[tuple[str, list[float]]]:
    """The commands of canonical path data with their numbers, repeated letters written out.

    Raises ``CannotRead`` for anything outside the subset.
    """
    letters = path.encode("ascii", "replace").translate(None, _BETWEEN).decode()
    if not letters.strip(_LETTERS):  # as Jontel writes it, and most of what comes in: read as a whole
        with suppress(ValueError):
            return iter(_as_a_whole(path, letters))
    return _by_token(path)


def _as_a_whole(path: str, letters: str) -> list[tuple[str, list[float]]]:
    """The commands of path data with these ``letters``, read as the list of lists that it nearly is.

    That takes a fifth of the time. Raises ``ValueError`` where it is not so.
    """
    lists = " ".join(path.replace(",", " ").split()) if "," in path or "  " in path else path.strip()
    if not lists.startswith("M"):
        raise ValueError
    for letter in set(letters):
        lists = lists.replace(f" {letter}", letter).replace(f"{letter} ", letter).replace(letter, "],[")
    try:
        pieces = _NUMBERS.decode(f"[{lists.replace(' ', ',')[2:]}]]")
    except msgspec.DecodeError as odd:  # numbers that only we would read so
        raise ValueError from odd
    found: list[tuple[str, list[float]]] = []
    for letter, numbers in zip(letters, pieces, strict=True):
        count = _NUMBERS_OF[letter]
        if len(numbers) == count:
            found.append((letter, numbers))
            continue
        if not count or not numbers or len(numbers) % count:
            raise ValueError
        first = [(letter, numbers[:count])]
        then = "L" if letter == "M" else letter
        found += first + [(then, numbers[k : k + count]) for k in range(count, len(numbers), count)]
    return found


def _by_token(path: str) -> Iterator[tuple[str, list[float]]]:
    letter = ""
    numbers: list[float] = []
    for match in _TOKEN.finditer(path):
        found, number, odd = match.groups()
        if odd:
            raise CannotRead(f"The outline holds “{odd}”, which is not path data; draw it again.")
        if (not letter and found != "M") or (letter == "Z" and number):
            raise CannotRead("An outline does not start with a move; draw it again.")
        if found:
            if numbers:
                raise CannotRead("An outline ends in the middle of a curve; draw it again.")
            letter = found
            if letter == "Z":
                yield "Z", []
        else:
            numbers.append(float(number))
            if len(numbers) == _NUMBERS_OF[letter]:
                yield letter, numbers
                numbers = []
                if letter == "M":
                    letter = "L"
    if numbers:
        raise CannotRead("An outline ends in the middle of a curve; draw it again.")


def number_text(value: float) -> str:
    """A coordinate as short text."""
    return f"{value:.{DECIMALS}f}".rstrip("0").rstrip(".") if value else "0"


def composed(first: Matrix, then: Matrix) -> Matrix:
    """The matrix that moves by ``first`` and ``then``."""
    a, b, c, d, e, f = first
    a2, b2, c2, d2, _, _ = then
    x, y = transform_point((e, f), then)
    return (a2 * a + c2 * b, b2 * a + d2 * b, a2 * c + c2 * d, b2 * c + d2 * d, x, y)


def inverted(matrix: Matrix) -> Matrix:
    """The matrix that takes back what ``matrix`` does; a flat one, which nothing takes back, stays."""
    a, b, c, d, e, f = matrix
    det = a * d - b * c
    if abs(det) < 1e-12:
        return matrix
    return (d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det)


def transform_path(path: str, matrix: Matrix) -> str:
    """Canonical path data moved by ``matrix``."""
    a, b, c, d, e, f = matrix
    read = list(commands(path))
    flat = [value for _, numbers in read for value in numbers]
    places = zip(flat[::2], flat[1::2], strict=True)
    moved = [value or 0.0 for x, y in places for value in (a * x + c * y + e, b * x + d * y + f)]
    whole = " ".join([_WRITTEN[letter] for letter, _ in read]) % tuple(moved) + " "
    for _ in range(DECIMALS):  # as ``number_text`` does it with each of them: of thousands in a third of the time
        whole = whole.replace("0 ", " ")
    return whole.replace(". ", " ").rstrip()


def transform_point(point: Point, matrix: Matrix) -> Point:
    """One point moved by ``matrix``."""
    a, b, c, d, e, f = matrix
    x, y = point
    return a * x + c * y + e, b * x + d * y + f


def transform_shape(shape: Shape, matrix: Matrix) -> Shape:
    """A shape moved by ``matrix``; the width of a line grows with the mean of the two scales."""
    a, b, c, d, _, _ = matrix
    match shape:
        case Area(path=path):
            guide = None if shape.guide is None else transform_path(shape.guide, matrix)
            columns = Corrections(
                _moved(shape.columns.cuts, matrix),
                _moved(shape.columns.merges, matrix),
                tuple(transform_point(place, matrix) for place in shape.columns.order),
            )
            lines = _moved(shape.lines, matrix)
            return replace(shape, path=transform_path(path, matrix), lines=lines, guide=guide, columns=columns)
        case Line(path=path, width=width):
            scale = abs(a * d - b * c) ** 0.5
            wider = width if scale == 1.0 else WIDTH.within(round(width * scale, DECIMALS))
            return replace(shape, path=transform_path(path, matrix), width=wider)
        case Column(edge, other, lines):
            return Column(transform_path(edge, matrix), transform_path(other, matrix), _moved(lines, matrix))


def _moved(lines: Lines, matrix: Matrix) -> Lines:
    return tuple((transform_point(p, matrix), transform_point(q, matrix)) for p, q in lines)


def polyline_path(points: list[Point] | tuple[Point, ...], closed: bool = False) -> str:
    """Path data of straight pieces through ``points``."""
    body = " L".join(f"{number_text(x)} {number_text(y)}" for x, y in points)
    return f"M{body}{' Z' if closed else ''}"


KAPPA = 0.5522847498
"""Control points this part of the radius away make a cubic a quarter circle to 0.03 %."""


def ellipse_path(x: float, y: float, rx: float, ry: float) -> str:
    """Path data of an ellipse about ``(x, y)``: four quarter arcs."""
    kx, ky = rx * KAPPA, ry * KAPPA
    arcs = (
        (x + rx, y - ky, x + kx, y - ry, x, y - ry),
        (x - kx, y - ry, x - rx, y - ky, x - rx, y),
        (x - rx, y + ky, x - kx, y + ry, x, y + ry),
        (x + kx, y + ry, x + rx, y + ky, x + rx, y),
    )
    body = " ".join("C" + " ".join(number_text(v) for v in arc) for arc in arcs)
    return f"M{number_text(x + rx)} {number_text(y)} {body} Z"
