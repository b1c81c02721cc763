"""Letters in threads of their own: still the same words."""

import pytest
from msgspec.structs import replace

from jontel.data import thread_chart
from jontel.design import Design
from jontel.design.edits import add_objects, remove_objects, use_thread
from jontel.design.lettering import LetterChange, Lettering, retyped
from jontel.files.working import decode, encode
from jontel.geometry.region import region_of
from jontel.lettering.fonts import shipped_fonts
from jontel.lettering.kin import kin_of, owner_of, recoloured, reworded
from jontel.lettering.setting import words_object
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan
from tests.conftest import design_of

OWN, RED, GOLD = thread_chart()[4:7]


def words(text: str = "Nora") -> Design:
    lettering = Lettering(text, shipped_fonts()[0].name, height=12.0)
    return use_thread(add_objects(design_of(), [words_object(lettering, OWN.code)]), {1}, OWN)


def cloth(design: Design) -> float:
    return sum(region_of(item.shape).area for item in design.objects)


def test_a_letter_gets_a_thread_of_its_own_and_the_words_cover_the_same_cloth() -> None:
    design = words()
    made = recoloured(design, design.objects[0], 1, RED)
    assert [item.thread for item in made.objects] == [design.objects[0].thread, RED.code]
    assert [item.lettering.text for item in made.objects] == ["Nora", "Nora"]
    assert made.objects[1].name == f"Nora · {RED.name}" and made.objects[0].group == made.objects[1].group != 0
    assert cloth(made) == pytest.approx(cloth(design), abs=1e-6)
    left, right = (item.bounds for item in (region_of(o.shape) for o in made.objects))
    assert left[0] < right[0] and right[2] < left[2], "the o lies within what is left of the word"
    sewn = plan(made)
    assert not sewn.failures and totals(sewn).changes == 1
    assert owner_of(made, made.objects[0], 1).id == made.objects[1].id
    again = decode(encode(made), "x.jontel")
    assert again.objects == made.objects


def test_more_letters_share_a_thread_and_one_that_goes_back_leaves_none() -> None:
    design = words()
    word = design.objects[0]
    made = recoloured(design, word, 1, RED)
    made = recoloured(made, made.objects[0], 3, RED)
    assert len(made.objects) == 2 and cloth(made) == pytest.approx(cloth(design), abs=1e-6)
    made = recoloured(made, made.objects[1], 0, GOLD)
    assert len(made.objects) == 3 and len(kin_of(made, made.objects[0])) == 3
    for sign in (1, 3, 0):
        made = recoloured(made, made.objects[0], sign, OWN)
    assert len(made.objects) == 1 and region_of(made.objects[0].shape).equals(region_of(word.shape))


def test_words_of_which_every_letter_has_another_thread_lose_their_first_object() -> None:
    design = words("No")
    made = design
    for sign in (0, 1):
        made = recoloured(made, made.objects[0], sign, RED)
    assert len(made.objects) == 1 and made.objects[0].thread == RED.code
    assert cloth(made) == pytest.approx(cloth(design), abs=1e-6) and not plan(made).failures


def test_what_is_typed_moves_the_threads_of_the_letters_along() -> None:
    made = recoloured(words(), words().objects[0], 1, RED)
    longer = reworded(made, {made.objects[0].id}, lambda old: retyped(old, "Anora"))
    assert [item.lettering.text for item in longer.objects] == ["Anora", "Anora"]
    assert longer.objects[1].lettering.letters == (LetterChange(2, part=1),)
    taller = reworded(longer, {longer.objects[1].id}, lambda old: replace(old, height=24.0))
    assert [item.lettering.height for item in taller.objects] == [24.0, 24.0]
    assert region_of(taller.objects[1].shape).area == pytest.approx(
        4 * region_of(longer.objects[1].shape).area, rel=0.15
    )
    shorter = reworded(longer, {longer.objects[0].id}, lambda old: retyped(old, "Anra"))
    assert len(shorter.objects) == 1, "with its only letter the part goes"


def test_a_letter_whose_object_was_deleted_can_be_given_a_thread_again() -> None:
    design = words()
    made = recoloured(design, design.objects[0], 1, RED)
    less = remove_objects(made, {made.objects[1].id})
    back = recoloured(less, less.objects[0], 1, GOLD)
    assert len(back.objects) == 2 and cloth(back) == pytest.approx(cloth(design), abs=1e-6)
