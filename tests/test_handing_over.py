"""What goes with the stitches: a template at true size, a sheet for approval, everything of a job in one file."""

import zipfile
from io import BytesIO
from pathlib import Path

import numpy as np
import pypdfium2 as pdfium
import pytest
from click.testing import CliRunner
from numpy.typing import NDArray
from pypdf import PdfReader
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm

from jontel.cli import cli
from jontel.design import Area, CannotWrite, Design, Fill, Line, Run
from jontel.files import approval, template, working
from jontel.files.formats import BUILT_IN, export, format_of
from jontel.files.template import TILE
from jontel.sewing.plan import plan
from tests.conftest import box_path
from tests.test_forecast import design_on

FINE = 4
"""Pixels a mm."""


def pages(data: bytes) -> list[NDArray[np.uint8]]:
    """Every page in grey, so many pixels a mm."""
    document = pdfium.PdfDocument(data)
    return [np.asarray(page.render(scale=FINE / mm).to_pil().convert("L")) for page in document]


def box(x: float, y: float, wide: float, high: float) -> Design:
    """One filled box."""
    return design_on("Denim", (Area(box_path(x, y, wide, high)), Fill()))


def dark(page: NDArray[np.uint8], x: float, y: float, corner: tuple[float, float]) -> bool:
    """Whether a line is near a place of the design, mm, on the page that begins at ``corner``."""
    left, top = (A4[0] / mm - TILE[0]) / 2 + x - corner[0], (A4[1] / mm - TILE[1]) / 2 + y - corner[1]
    column, row = round(left * FINE), round(top * FINE)
    return bool(page[row - 4 : row + 5, column - 4 : column + 5].min() < 200)


def test_the_template_is_at_true_size_with_its_centre() -> None:
    design = box(10, -30, 50, 20)
    (page,) = pages(template.write(plan(design), design))
    # it lies evenly about what is sewn and the centre: the box reaches from 0 to about 60 across, from -30 to 0 down
    from jontel.design.resolve import resolve
    from jontel.stitching.engine import sewn_edge

    left, top, right, low = sewn_edge(resolve(design.objects[0], design.brief.ground)).bounds
    corner = (min(left, 0) + right) / 2 - TILE[0] / 2, (top + max(low, 0)) / 2 - TILE[1] / 2
    for x, y in (
        (left, (top + low) / 2),
        (right, (top + low) / 2),
        ((left + right) / 2, top),
        ((left + right) / 2, low),
    ):
        assert dark(page, x, y, corner)
    assert dark(page, 0, 3, corner) and not dark(page, (left + right) / 2, (top + low) / 2, corner)


def test_a_large_design_takes_as_many_pages_as_it_needs() -> None:
    design = box(-200, -50, 400, 300)
    data = template.write(plan(design), design)
    assert len(pages(data)) == 3 * 2
    words = [page.extract_text() for page in PdfReader(BytesIO(data)).pages]
    assert "page 1 of 6: row 1, column 1" in words[0] and "row 2, column 3" in words[5]
    far = design_on("Denim", (Line("M-9000 -9000 L9000 9000"), Run(length=12.0)))
    with pytest.raises(CannotWrite, match="pages"):
        template.write(plan(far), far)


def test_the_sheet_for_approval_shows_size_and_threads() -> None:
    design = box(-20, -10, 40, 20)
    sewn = plan(design)
    words = PdfReader(BytesIO(approval.write(sewn, design))).pages[0].extract_text()
    assert "at true size" in words and sewn.threads[0].name in words and "Date and signature" in words
    (page,) = pages(approval.write(sewn, design))
    middle = page[: page.shape[0] // 2, page.shape[1] // 2 - 20 : page.shape[1] // 2 + 20]
    assert middle.min() < 200
    wide = box(-150, -10, 300, 20)
    assert "shown at" in PdfReader(BytesIO(approval.write(plan(wide), wide))).pages[0].extract_text()


def test_everything_of_a_job_in_one_file(tmp_path: Path) -> None:
    design = box(-20, -10, 40, 20)
    for name in ("one.zip", "two.zip"):
        export(design, tmp_path / name)
    assert (tmp_path / "one.zip").read_bytes() == (tmp_path / "two.zip").read_bytes()
    with zipfile.ZipFile(tmp_path / "one.zip") as folder:
        endings = {one.ending for one in BUILT_IN} - {".zip"}
        assert {"." + name.split("/", 1)[1].split(".", 1)[1] for name in folder.namelist()} == endings
        inside = next(name for name in folder.namelist() if name.endswith(".jontel"))
        assert working.decode(folder.read(inside), "F.jontel").objects == design.objects


def test_the_longest_ending_says_the_format(tmp_path: Path) -> None:
    names = {"a.pdf": ".pdf", "a.template.pdf": ".template.pdf", "A.APPROVAL.PDF": ".approval.pdf", "b.zip": ".zip"}
    assert {name: format_of(Path(name)).ending for name in names} == names
    with pytest.raises(CannotWrite, match=r"\.template\.pdf"):
        format_of(Path("a.exe"))
    export(box(0, 0, 20, 20), tmp_path / "box.jontel")
    out = tmp_path / "box.template.pdf"
    done = CliRunner().invoke(cli, ["export", str(tmp_path / "box.jontel"), "-o", str(out)])
    assert done.exit_code == 0 and out.read_bytes().startswith(b"%PDF")
