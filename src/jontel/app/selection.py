"""What is selected next, and what is copied: commands on the design in front."""

from collections.abc import Collection

from msgspec.structs import replace

from jontel.app.session import Document
from jontel.design import Design
from jontel.design.edits import change_objects, duplicate_objects, hidden_objects, locked_objects
from jontel.design.kinds import kind_name


def duplicate(document: Document) -> None:
    """Copy the selection in place and select the copies."""
    if document.selection:
        before = document.history.design
        document.edit("Duplicate", duplicate_objects(before, document.selection))
        document.select({o.id for o in document.design.objects} - {o.id for o in before.objects})


def select_all(document: Document) -> None:
    """Select every object that is neither hidden nor locked."""
    document.select({item.id for item in document.design.objects if item.within_reach})


def select_same_thread(document: Document) -> None:
    """Select everything in the threads of the selection."""
    threads = {item.thread for item in document.selected()}
    free = [item for item in document.design.objects if item.within_reach]
    document.select({item.id for item in free if item.thread in threads})


def select_same_kind(document: Document) -> None:
    """Select everything that is sewn as what is selected: the same covers on the same sorts of shape."""
    kinds = {(kind_name(item.cover), kind_name(item.shape)) for item in document.selected()}
    items = document.design.objects
    free = [item for item in items if item.within_reach]
    document.select({item.id for item in free if (kind_name(item.cover), kind_name(item.shape)) in kinds})


def alone(design: Design, ids: Collection[int]) -> Design:
    """``design`` with everything hidden but the objects in ``ids``."""
    others = {item.id for item in design.objects if item.id not in ids}
    return hidden_objects(change_objects(design, ids, lambda item: replace(item, hidden=False)), others)


def lock(document: Document) -> None:
    """Lock what is selected, and let go of it."""
    if document.selection:
        document.edit("Lock", locked_objects(document.history.design, document.selection))
        document.select(frozenset())


def select_step(document: Document, step: int) -> None:
    """Select the next or the previous object in sewing order."""
    if not document.design.objects:
        return
    ids = [item.id for item in document.design.objects]
    chosen = [n for n, identity in enumerate(ids) if identity in document.selection]
    at = (chosen[-1] + step) % len(ids) if chosen else 0 if step > 0 else len(ids) - 1
    document.select({ids[at]})
