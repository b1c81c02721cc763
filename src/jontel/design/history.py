"""History: a list of designs. An edit adds one; undo and redo move along it."""

from msgspec import Struct
from msgspec.structs import replace

from jontel.design.design import Design


class Step(Struct, frozen=True):
    """A design and what was done to arrive at it."""

    label: str
    design: Design


class History(Struct, frozen=True):
    """All designs since the file was opened; ``at`` is the current one."""

    steps: tuple[Step, ...]
    at: int = 0

    @classmethod
    def of(cls, design: Design) -> "History":
        """A history that starts here."""
        return cls((Step("Open", design),))

    @property
    def design(self) -> Design:
        """The current design."""
        return self.steps[self.at].design

    @property
    def undo_label(self) -> str | None:
        """What undo would take back, or ``None`` at the beginning."""
        return self.steps[self.at].label if self.at else None

    @property
    def redo_label(self) -> str | None:
        """What redo would do again, or ``None`` at the end."""
        return self.steps[self.at + 1].label if self.at + 1 < len(self.steps) else None

    def push(self, label: str, design: Design) -> "History":
        """The history after an edit; an edit that changes nothing adds nothing."""
        if design == self.design:
            return self
        return History((*self.steps[: self.at + 1], Step(label, design)), self.at + 1)

    def undo(self) -> "History":
        """One step back, or the same at the beginning."""
        return replace(self, at=max(0, self.at - 1))

    def redo(self) -> "History":
        """One step forward, or the same at the end."""
        return replace(self, at=min(len(self.steps) - 1, self.at + 1))
