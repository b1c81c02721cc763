"""The demo: the crest and the crew name bar of Pellan Point Light, from artwork to finished outputs."""

from pathlib import Path

from msgspec.structs import replace

from jontel.artwork.digitize import design_from
from jontel.data import find_ground, find_hoop, resource, thread_chart
from jontel.design.design import Design, StitchObject
from jontel.design.edits import add_objects, change_objects, pin, use_thread
from jontel.design.lettering import Lettering
from jontel.design.shapes import Area
from jontel.design.thread import nearest_thread
from jontel.files import svgout
from jontel.files.atomic import write_whole
from jontel.files.formats import export, read_movements
from jontel.lettering.setting import words_object
from jontel.machine.head import SewReport, sew
from jontel.sewing.estimate import Totals, totals
from jontel.sewing.plan import plan

CREST_ANGLES = {
    "Sky": 8.0,
    "Beam left": -6.0,
    "Rock": 35.0,
    "Tower wall": 8.0,
    "Upper band": 90.0,
    "Lower band": 90.0,
    "Lantern": 90.0,
    "Ring": 45.0,
    "Roof": 0.0,
    "Moon": 20.0,
}
CREST_GUIDES = {
    "Near sea": "M-36 15 C-18 18 -10 12 0 15 C10 18 18 12 36 15",
    "Mid sea": "M-36 22 C-18 19 -10 25 0 22 C10 19 18 25 36 22",
    "Deep sea": "M-36 29 C-18 32 -9 26 0 29 C9 32 18 26 36 29",
}
"""Curves that the rows of the sea follow, mm."""
BEAM = {"fade": "along", "fade_to": 1.0, "fade_angle": 174.0}
"""The beam opens away from the lantern."""
RING_FONT, NAME_FONT = "Quicksand Bold", "IBM Plex Sans SemiBold"
WHITE, GOLD = (244, 241, 232), (238, 196, 90)
FILM = "Lay the film over the ring before the letters"


def crest() -> Design:
    """The crest on piqué: its rows catch the light differently, the sea's follow the waves, the beam fades out."""
    chart = thread_chart()
    made = design_from(
        resource("demo/crest.svg"), "crest.svg", find_ground("Pique knit"), find_hoop("100 x 100"), chart
    )
    for item in made.objects:
        if item.name in CREST_ANGLES:
            made = pin(made, {item.id}, "angle", CREST_ANGLES[item.name])
        if item.name in CREST_GUIDES:
            made = change_objects(made, {item.id}, _guided)
        if item.name == "Beam left":
            for field, value in BEAM.items():
                made = pin(made, {item.id}, field, value)
    around = Lettering("PELLAN POINT\nLIGHT", RING_FONT, 5.0, letter_space=26.0, course="circle", radius=34.4)
    made = _with_words(made, around, WHITE, "Rope edge")
    ring = {item.id for item in made.objects if item.name == "Ring"}
    made = change_objects(made, ring, lambda item: replace(item, ends=replace(item.ends, stop=FILM)))
    return replace(made, name="Pellan Point crest")


def _guided(item: StitchObject) -> StitchObject:
    assert isinstance(item.shape, Area)
    return replace(item, shape=replace(item.shape, guide=CREST_GUIDES[item.name]))


def name_bar() -> Design:
    """The crew name bar on felt."""
    made = design_from(
        resource("demo/name-bar.svg"),
        "name-bar.svg",
        find_ground("Felt"),
        find_hoop("Cap 100 x 55"),
        thread_chart(),
    )
    words = (
        Lettering("NELL", NAME_FONT, 10.0, letter_space=12.0, place=(1.0, 0.0, 0.0, 1.0, -6.5, 5.0)),
        Lettering("PILOT", NAME_FONT, 5.0, letter_space=14.0, place=(1.0, 0.0, 0.0, 1.0, 27.5, 5.0)),
    )
    for lettering, rgb in zip(words, (WHITE, GOLD), strict=True):
        made = _with_words(made, lettering, rgb, "Border")
    return replace(made, name="Crew name bar")


def _with_words(made: Design, lettering: Lettering, rgb: tuple[int, int, int], before: str) -> Design:
    """``made`` with words in the thread nearest to a colour, sewn before the object of that name."""
    thread = nearest_thread(rgb, thread_chart())
    place = next(number for number, one in enumerate(made.objects) if one.name == before)
    fresh = made.next_id
    return use_thread(add_objects(made, [words_object(lettering, thread.code)], place), {fresh}, thread)


def run_job(folder: Path) -> list[tuple[str, Totals, SewReport]]:
    """Do the whole job without a window: write every output of both designs and sew the machine files.

    Returns for each design its name, its totals and what the stand-in machine did.
    """
    folder.mkdir(parents=True, exist_ok=True)
    found: list[tuple[str, Totals, SewReport]] = []
    for stem, made in (("crest", crest()), ("name-bar", name_bar())):
        for ending in ("jontel", "csv", "ngc", "svg", "png", "pdf"):
            export(made, folder / f"{stem}.{ending}")
        sewn = plan(made)
        write_whole(folder / f"{stem}-outlines.svg", svgout.outlines(sewn, made))
        report = sew(read_movements(folder / f"{stem}.ngc"), made.brief.hoop, made.brief.machine)
        found.append((made.name, totals(sewn), report))
    return found
