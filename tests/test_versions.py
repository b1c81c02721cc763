"""Named states: kept in the file, compared in words, gone back to."""

import io
import zipfile
from pathlib import Path

import msgspec
import pytest
from click.testing import CliRunner
from msgspec.structs import replace
from PIL import Image

from jontel.app.panels.versions import photo_from
from jontel.cli import cli
from jontel.data import find_ground, thread_chart
from jontel.design import Area, CannotRead, Design, Fill, Satin
from jontel.design.design import MOST_VERSIONS
from jontel.design.edits import (
    add_objects,
    change_objects,
    pin,
    remove_objects,
    reorder,
    set_ground,
    transform_objects,
    use_thread,
)
from jontel.design.errors import CannotDo
from jontel.design.lettering import Lettering
from jontel.design.versions import back_to, differences, state_of, with_photo, with_version, without_version
from jontel.files.working import decode, encode
from jontel.lettering.fonts import shipped_fonts
from jontel.lettering.kin import reworded
from jontel.lettering.setting import words_object
from tests.conftest import box_path, design_of

WHEN = "2026-11-28 18:00"


def three() -> Design:
    return design_of(*((Area(box_path(20 * k, 0, 10, 10)), Fill()) for k in range(3)))


def test_a_state_is_kept_in_the_file_with_its_photo_and_gone_back_to(tmp_path: Path) -> None:
    picture = tmp_path / "photo.png"
    Image.new("RGB", (3000, 2000), (40, 90, 120)).save(picture)
    photo = photo_from(picture)
    assert Image.open(io.BytesIO(photo)).size == (1600, 1067)
    first = with_photo(with_version(three(), "first test", "gaps at the rim", WHEN), 0, photo)
    later = pin(remove_objects(first, {2}), {1}, "spacing", 0.36)
    again = decode(encode(later), "x.jontel")
    assert again == later and again.versions[0].photo == photo
    back = back_to(again, 0)
    assert back.objects == three().objects and back.versions == again.versions
    fresh = add_objects(back, [replace(back.objects[0], id=0)])
    assert fresh.objects[-1].id == 4, "numbers are not given twice"
    assert without_version(back, 0).versions == ()


def test_what_changed_is_told_in_the_words_of_the_trade() -> None:
    before = three()
    assert differences(before, before) == ()
    after = pin(before, {1}, "spacing", 0.36)
    after = change_objects(after, {2}, lambda item: replace(item, cover=Satin(), name="Mast"))
    after = transform_objects(after, {3}, (1, 0, 0, 1, 3.0, 4.0))
    after = use_thread(after, {3}, thread_chart()[4])
    told = differences(before, after)
    assert any("spacing as the ground → 0.36 mm" in one.lower() for one in told)
    assert any("“Mast”: was called “Object 2”, fill → satin" in one for one in told)
    assert any("moved by 5.0 mm" in one and "→ Slate" in one for one in told) and len(told) == 3
    assert "Gone: “Object 1”." in differences(before, remove_objects(before, {1}))
    assert "New: “Object 1”." in differences(remove_objects(before, {1}), before)
    assert differences(before, reorder(before, {1}, None)) == ("They are sewn in another order.",)
    grounded = differences(before, set_ground(before, find_ground("Jersey T-shirt")))
    assert any("→ Jersey T-shirt" in one for one in grounded)


def test_words_are_told_by_what_they_read() -> None:
    before = add_objects(design_of(), [words_object(Lettering("Nora", shipped_fonts()[0].name), "1")])
    after = reworded(before, {1}, lambda words: replace(words, text="Norah", height=14.0))
    (told,) = differences(before, after)
    assert "reads “Norah”" in told and "capitals 12 → 14 mm" in told and "shape" not in told


def test_a_state_holds_no_states_and_there_are_not_too_many() -> None:
    design = three()
    for k in range(MOST_VERSIONS):
        design = with_version(design, f"state {k}", "", WHEN)
    assert all(one.state.versions == () for one in design.versions)
    with pytest.raises(CannotDo):
        with_version(design, "one more", "", WHEN)
    assert state_of(design) == three()


def test_a_damaged_state_is_refused_in_a_sentence() -> None:
    made = encode(with_version(three(), "first", "", WHEN))

    def changed(change) -> bytes:  # type: ignore[no-untyped-def]
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(made)) as old, zipfile.ZipFile(out, "w") as fresh:
            document = msgspec.json.decode(old.read("design.json"))
            change(document["design"]["versions"][0])
            fresh.writestr("design.json", msgspec.json.encode(document))
        return out.getvalue()

    def nested(version) -> None:  # type: ignore[no-untyped-def]
        version["state"]["versions"] = [{"name": "a", "note": "", "when": "", "state": dict(version["state"])}]

    def twice(version) -> None:  # type: ignore[no-untyped-def]
        version["state"]["objects"].append(version["state"]["objects"][0])

    for change in (nested, twice, lambda version: version.update(state=3), lambda version: version.pop("state")):
        with pytest.raises(CannotRead) as told:
            decode(changed(change), "boat.jontel")
        assert str(told.value).startswith("boat.jontel is damaged") and str(told.value).endswith(".")


def test_states_are_told_on_the_command_line(tmp_path: Path) -> None:
    file = tmp_path / "boat.jontel"
    design = with_version(three(), "first test", "gaps", WHEN)
    file.write_bytes(encode(with_version(pin(design, {1}, "spacing", 0.36), "second", "", WHEN)))
    done = CliRunner().invoke(cli, ["versions", str(file)])
    assert done.exit_code == 0 and "first test, 2026-11-28 18:00: gaps" in done.output
    assert "to second: “Object 1”" in done.output and "to now: nothing that is sewn" in done.output
