"""One's own cloth: a made-up cloth sews the swatch, and its numbers are found again."""

import io
import math
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner
from msgspec.structs import replace
from PIL import Image
from skimage.transform import ProjectiveTransform, warp

from jontel.cli import cli
from jontel.data import find_ground
from jontel.design.errors import CannotRead
from jontel.files.owngrounds import all_grounds
from jontel.files.owngrounds import find_ground as find_any
from jontel.files.working import decode
from jontel.forecast.calibrating import fitted, own_ground, read_readings, readings_csv, readings_form
from jontel.forecast.cloth import PULL, cloth_of
from jontel.forecast.forecast import Forecast, forecast
from jontel.forecast.scanning import measured_on, painted, unmoved
from jontel.forecast.showing import shown
from jontel.forecast.swatch import CROSSES, readings, swatch
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proof import proof

GROUND = find_ground("Pique knit")
TRUE = replace(cloth_of(GROUND), pull=0.11, push=0.05, along=9.0, across=18.0)


@pytest.fixture(scope="module")
def seen() -> Forecast:
    return forecast(plan(swatch(GROUND)), cloth=TRUE)


def photo(
    sewn: SewPlan, seed: int = 0, fine: int = 12, turn: float = 3.0, noise: float = 6.0, dark: bool = False
) -> bytes:
    """A picture of the swatch, tilted, noisy and badly lit."""
    rng = np.random.default_rng(seed)
    thread = painted(sewn, fine)
    size, margin = thread.shape[0], int(0.1 * thread.shape[0])
    whole = size + 2 * margin
    corners = np.array([[0, 0], [size, 0], [size, size], [0, size]], dtype=float)
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    seen_at = (
        (corners - size / 2) @ np.array([[c, s], [-s, c]]) + size / 2 + margin + rng.normal(0, 0.01 * size, (4, 2))
    )
    tilt = ProjectiveTransform.from_estimate(seen_at, corners)
    laid = warp(thread, tilt, output_shape=(whole, whole), order=1)
    y, x = np.mgrid[:whole, :whole] / whole
    cloth, ink = (40, 205) if dark else (205, 40)
    grey = (cloth * (1 - laid) + ink * laid) * (1 - 0.35 * (0.7 * x + 0.3 * y)) + rng.normal(0, noise, laid.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(grey, 0, 255).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def test_the_swatch_is_sewn_without_a_finding_inside_its_field() -> None:
    for name in ("Woven twill", "Jersey T-shirt", "Leather"):
        design = swatch(find_ground(name))
        sewn = plan(design)
        assert not sewn.failures and np.abs(sewn.xy).max() < 50
        assert not [one for one in proof(design, sewn) if one.severity == "spoils"]
        assert len(readings()) == 34 and {one.object for one in readings()} < {item.name for item in design.objects}


def test_readings_find_the_numbers_of_the_cloth_again(seen: Forecast) -> None:
    rng, still = np.random.default_rng(1), unmoved(GROUND)
    read = {one.name: one.of(seen) - one.drawn + still[one.name] + rng.normal(0, 0.03) for one in readings()}
    found = fitted(GROUND, read_readings(readings_csv(read), "own.csv"))
    assert found.cloth.pull == pytest.approx(TRUE.pull, rel=0.10)
    assert found.cloth.push == pytest.approx(TRUE.push, rel=0.10)
    assert found.cloth.across / found.cloth.along == pytest.approx(2.0, rel=0.10)
    assert abs(found.cloth.pull - TRUE.pull) < 4 * found.pull and found.used == 34 and found.off < 0.05
    own = own_ground(GROUND, "My piqué", found)
    assert own.edges.pull == pytest.approx(found.cloth.pull / PULL, abs=0.01) and own.cloth == found.cloth


@pytest.mark.parametrize(
    "kind",
    [{"seed": 1, "turn": -6.0}, {"seed": 2, "noise": 12.0, "fine": 8}, {"seed": 3, "dark": True, "fine": 8}],
)
def test_a_tilted_noisy_badly_lit_picture_is_measured(seen: Forecast, kind: dict[str, float]) -> None:
    found = measured_on(photo(shown(seen), **kind), "photo.png")  # type: ignore[arg-type]
    still = unmoved(GROUND)
    off = np.array(
        [found[one.name] - (one.of(seen) - one.drawn + still[one.name]) for one in readings() if one.name in found]
    )
    assert len(off) >= 28 and np.abs(off).mean() < 0.12 and abs(off.mean()) < 0.06


@pytest.mark.parametrize("kind", [{"seed": 0, "fine": 10}, {"seed": 2, "noise": 12.0, "fine": 8, "turn": -5.0}])
def test_a_picture_finds_the_numbers(seen: Forecast, kind: dict[str, float]) -> None:
    found = fitted(GROUND, measured_on(photo(shown(seen), **kind), "photo.png"), on_picture=True)  # type: ignore[arg-type]
    assert found.cloth.pull == pytest.approx(TRUE.pull, rel=0.10)
    assert found.cloth.push == pytest.approx(TRUE.push, rel=0.10)
    ratio = found.cloth.across / found.cloth.along
    assert ratio == pytest.approx(2.0, rel=0.10)
    assert math.sqrt(found.cloth.across * found.cloth.along) == pytest.approx(
        math.sqrt(cloth_of(GROUND).across * cloth_of(GROUND).along)
    )
    assert 0 < found.pull < 0.1 * TRUE.pull and 0 < found.push < 0.4 * TRUE.push and 0 < found.ratio < 0.4


def test_what_is_no_picture_of_the_swatch_gets_a_sentence(seen: Forecast) -> None:
    whole = shown(seen)
    three = whole.with_pieces(whole.pieces[1:])
    noise = io.BytesIO()
    Image.fromarray(np.random.default_rng(0).integers(0, 255, (900, 900), dtype=np.uint8)).save(noise, "PNG")
    small = io.BytesIO()
    Image.new("L", (200, 200), 120).save(small, "PNG")
    flat = io.BytesIO()
    Image.new("L", (900, 900), 120).save(flat, "PNG")
    for data in (
        b"",
        b"not a picture",
        photo(three, fine=8),
        noise.getvalue(),
        small.getvalue(),
        flat.getvalue(),
        photo(whole, fine=8)[:5000],
    ):
        with pytest.raises(CannotRead) as told:
            measured_on(data, "photo.png")
        assert str(told.value).endswith(".") and "photo.png" in str(told.value)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "reading,mm\n",
        "reading,mm\ndisc across,16\n",
        "reading,mm\nnobody,16\n",
        "reading,mm\ndisc across,lots\n",
        "reading,mm\ndisc across,25\n",
        "\xff\xfe",
        "disc across,nan\n",
    ],
)
def test_absurd_readings_get_a_sentence(text: str) -> None:
    with pytest.raises(CannotRead) as told:
        read_readings(text.encode("latin-1"), "own.csv")
    assert str(told.value).endswith(".") and "own.csv" in str(told.value)


def test_the_form_says_what_to_measure_and_is_read_when_filled_in() -> None:
    rows = readings_form(GROUND).decode().splitlines()
    assert rows[0].startswith("reading,mm") and len(rows) >= 33
    filled = "\n".join(row.replace(",,", f",{row.split(',')[2]},") for row in rows)
    assert len(read_readings(filled.encode(), "form.csv")) >= 32


def test_a_cloth_is_calibrated_on_the_command_line_and_is_there_as_a_ground(
    seen: Forecast, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    import platformdirs

    monkeypatch.setattr(platformdirs, "user_config_dir", lambda _name: str(tmp_path / "config"))
    run = CliRunner()
    out, form, read = tmp_path / "swatch.jontel", tmp_path / "form.csv", tmp_path / "read.csv"
    made = run.invoke(cli, ["swatch", "--ground", "Pique", "-o", str(out), "--form", str(form)])
    assert made.exit_code == 0 and form.exists() and len(decode(out.read_bytes(), "x").objects) > len(CROSSES)
    still = unmoved(GROUND)
    read.write_bytes(readings_csv({one.name: one.of(seen) - one.drawn + still[one.name] for one in readings()}))
    done = run.invoke(cli, ["calibrate", str(read), "--name", "My piqué", "--ground", "Pique knit"])
    assert done.exit_code == 0 and "My piqué: from 34 readings" in done.output and "±" in done.output
    assert "My piqué" in [one.name for one in all_grounds(tmp_path / "config/grounds")]
    assert find_any("my piqué", tmp_path / "config/grounds").cloth.pull == pytest.approx(TRUE.pull, rel=0.05)  # type: ignore[union-attr]
    (tmp_path / "config/grounds/broken.json").write_text("{")
    listed = run.invoke(cli, ["grounds"])
    assert listed.exit_code == 0 and "My piqué" in listed.output and "broken.json is no ground" in listed.output
