"""The few exceptions of the core. Each message is one sentence that a user can act on."""


class JontelError(Exception):
    """Something the user asked for cannot be done; ``str(error)`` says what to do about it."""


class CannotRead(JontelError):
    """Outside data that is not what it claims to be, or that is too large to be safe."""


class CannotWrite(JontelError):
    """An output that could not be written; nothing partial is left behind."""


class CannotDo(JontelError):
    """An edit that what is selected does not allow."""


class CannotStitch(JontelError):
    """One object that has no stitches as it stands.

    ``place`` is where to look, in mm, or ``None`` when it concerns the whole object.
    """

    def __init__(self, sentence: str, place: tuple[float, float] | None = None) -> None:
        super().__init__(sentence)
        self.place = place


class MachineRefused(JontelError):
    """The stand-in machine met a line that a real head would stop at."""
