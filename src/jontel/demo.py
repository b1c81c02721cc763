"""The demo: the crest and the crew name bar of Pellan Point Light, from artwork to finished outputs."""

from pathlib import Path

from msgspec.structs import replace

from jontel.artwork.digitize import design_from
from jontel.data import find_ground, find_hoop, resource, thread_chart
from jontel.design.design import Design
from jontel.design.edits import change_objects, pin
from jontel.files import svgout
from jontel.files.atomic import write_whole
from jontel.files.formats import export, read_movements
from jontel.sewing.estimate import Totals, totals
from jontel.sewing.machine import SewReport, sew
from jontel.sewing.plan import plan

CREST_ANGLES = {
    "Sky": 8.0,
    "Beam left": -6.0,
    "Near sea": -8.0,
    "Mid sea": 12.0,
    "Deep sea": -12.0,
    "Rock": 35.0,
    "Tower wall": 8.0,
    "Upper band": 90.0,
    "Lower band": 90.0,
    "Lantern": 90.0,
    "Ring": 45.0,
    "Roof": 0.0,
    "Moon": 20.0,
}
FILM = "Lay the film over the ring before the letters"


def crest() -> Design:
    """The crest on piqué, its rows turned so that neighbours catch the light differently."""
    chart = thread_chart()
    made = design_from(
        resource("demo/crest.svg"), "crest.svg", find_ground("Pique knit"), find_hoop("100 x 100"), chart
    )
    for item in made.objects:
        if item.name in CREST_ANGLES:
            made = pin(made, {item.id}, "angle", CREST_ANGLES[item.name])
    ring = {item.id for item in made.objects if item.name == "Ring"}
    made = change_objects(made, ring, lambda item: replace(item, ends=replace(item.ends, stop=FILM)))
    return replace(made, name="Pellan Point crest")


def name_bar() -> Design:
    """The crew name bar on felt."""
    made = design_from(
        resource("demo/name-bar.svg"),
        "name-bar.svg",
        find_ground("Felt"),
        find_hoop("Cap 100 x 55"),
        thread_chart(),
    )
    return replace(made, name="Crew name bar")


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
        report = sew(read_movements(folder / f"{stem}.ngc"), made.brief.hoop)
        found.append((made.name, totals(sewn), report))
    return found
