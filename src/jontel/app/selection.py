"""What is selected next, and what is copied: commands on the design in front."""

from jontel.app.session import Document
from jontel.design.edits import duplicate_objects


def duplicate(document: Document) -> None:
    """Copy the selection in place and select the copies."""
    if document.selection:
        before = document.history.design
        document.edit("Duplicate", duplicate_objects(before, document.selection))
        document.select({o.id for o in document.design.objects} - {o.id for o in before.objects})


def select_all(document: Document) -> None:
    """Select every object."""
    document.select({item.id for item in document.design.objects})


def select_same_thread(document: Document) -> None:
    """Select everything in the threads of the selection."""
    threads = {item.thread for item in document.selected()}
    document.select({item.id for item in document.design.objects if item.thread in threads})


def select_step(document: Document, step: int) -> None:
    """Select the next or the previous object in sewing order."""
    if not document.design.objects:
        return
    ids = [item.id for item in document.design.objects]
    chosen = [n for n, identity in enumerate(ids) if identity in document.selection]
    at = (chosen[-1] + step) % len(ids) if chosen else 0 if step > 0 else len(ids) - 1
    document.select({ids[at]})
