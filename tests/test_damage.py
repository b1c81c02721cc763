"""Working files damaged at random open as a design that can be sewn, or are refused in one sentence."""

import pytest
from msgspec.structs import replace

from jontel.design import Area, Artwork, CannotRead, Column, Design, Ends, Fill, Line, Run, Satin, StitchObject
from jontel.design.cloth import Cloth
from jontel.design.design import Guide, Solved
from jontel.design.edits import add_objects, change_objects
from jontel.design.figures import shape_of
from jontel.design.figures.star import Star
from jontel.design.kinds.mesh import Mesh
from jontel.design.lettering import LetterChange, Lettering
from jontel.design.monogram import Monogram
from jontel.design.order import Connections, Step, Strand
from jontel.design.shapes import Corrections
from jontel.files import working
from jontel.lettering.monograms import with_monogram
from jontel.lettering.setting import words_object
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from tests.conftest import box_path, design_of, ring_path
from tests.mutations import mutated

COLUMNS = Corrections(
    cuts=(((30.0, -1.0), (30.0, 5.0)),), merges=(((22.0, 2.0), (35.0, 2.0)),), order=((35.0, 2.0), (22.0, 2.0))
)


def ordered(made: Design) -> Design:
    """With what is said of the order, an undercut, a strand, and an edge solved."""
    strand = Strand(3, "fewest")
    made = change_objects(made, {2}, lambda item: replace(item, step=1, ends=Ends(stop_before="Look", lock="star")))
    made = change_objects(made, {4}, lambda item: replace(item, strand=strand))
    along = replace(made.objects[3], id=90, name="Along", shape=Line("M-5 -20 L-5 -12"), strand=strand)
    made = replace(made, objects=(*made.objects[:4], along, *made.objects[4:]))
    made = change_objects(made, {5}, lambda item: replace(item, undercut=0.8))
    made = change_objects(made, {6}, lambda item: replace(item, solved=Solved(item.shape, "stamp")))
    ground = replace(made.brief.ground, cloth=Cloth(pull=0.06))
    steps = (Step(1, "Leaf", before="Lay the film", felt="red"), Step(2, "Rest"))
    rules = Connections(cut_over=2.0, alike=4.0, lock="cross", sink_over=9.0)
    return replace(made, steps=steps, connections=rules, brief=replace(made.brief, ground=ground))


def whole() -> Design:
    """A design with something of every kind in it."""
    lines = (((-9.0, 21.0), (-2.0, 22.0)), ((-9.0, 27.0), (-2.0, 24.0)))
    fading = Fill(spacing=0.5, fade="custom", fade_profile=((0.0, 0.0), (1.0, 1.0)), border="satin")
    leaf = Line("M-10 10 C0 0 5 20 12 10", 3.0, profile=((0.0, 0.3), (1.0, 1.0)))
    made = design_of(
        (Area(box_path(-10, -10, 20, 12) + " " + ring_path(2, 0, -4, True, n=12)), fading),
        (leaf, Satin(texture="brick", feather_first=1.0, feather_second=1.0)),
        (Column("M0 0 L10 0", "M0 4 L10 5"), Satin(layers=2)),
        (Line("M-5 -20 L10 -20"), Run()),
        (Area(box_path(-10, 20, 9, 9), lines=lines), Fill()),
        (Area(box_path(20, 0, 20, 4), columns=COLUMNS), Satin()),
    )
    words = Lettering(
        "Ab", "Quicksand Bold", 8.0, course="along a line", line="M-20 0 L20 5", letters=(LetterChange(1, 1.0),)
    )
    inside = Lettering(
        "Io", "Quicksand Bold", 8.0, course="in a shape", line=ring_path(9, 40, 30, n=24), trims="between letters"
    )
    varied = replace(inside, axes=(("wght", 400.0),), least_stroke=1.2)
    made = add_objects(made, [words_object(words, "1001"), words_object(varied, "1001")])
    star = Star(points=6, place=(1.0, 0.2, -0.2, 1.0, -40.0, 30.0))
    shaped = StitchObject(id=0, name="Star", thread="1001", shape=shape_of(star), cover=Fill(), figure=star, group=77)
    made = add_objects(made, [shaped, replace(shaped, name="Unseen", hidden=True), replace(shaped, locked=True)])
    made, _ = with_monogram(made, Monogram("A", "Quicksand Bold", height=12.0, border="run", ornament="star"), "1001")
    ends = Ends(entry=(0.0, 0.0), stop="change the bobbin")
    made = change_objects(made, {1}, lambda item: replace(item, underlay=(Mesh(),), ends=ends))
    made = replace(made, next_id=100, guides=(Guide(True, 5.0), Guide(False, -3.0)), zero=(2.0, 3.0))
    made = ordered(made)
    return replace(made, artwork=(Artwork("a.svg", "svg", 0.0, 0.0, 10.0, 10.0, b"<svg/>"),))


DATA = working.encode(whole())


@pytest.mark.parametrize("first", range(0, 400, 50))
def test_any_damage_ends_in_a_design_or_a_sentence(first: int) -> None:
    for seed in range(first, first + 50):
        try:
            design = working.decode(mutated(DATA, seed), "it.jontel")
        except CannotRead as refused:
            said = str(refused)
            assert said.startswith("it.jontel") and said.endswith(".") and "\n" not in said and len(said) < 400
            continue
        proof(design, plan(design))
        assert working.decode(working.encode(design), "again.jontel") == design
