"""Drives a head over a socket: sends a job, confirms threads, starts and follows it, through lost connections."""

import hashlib
import socket
from collections.abc import Iterator
from types import TracebackType

from jontel.design.errors import CannotRead, MachineRefused
from jontel.machine.talk import LONGEST_LINE, VERSION, Message, heard, said

PATIENCE = 30.0


class MachineQuiet(MachineRefused):
    """Nothing was heard for as long as the driver has patience; the connection stands."""


def job_message(name: str, data: bytes) -> Message:
    """The line before a job's bytes."""
    return {"do": "job", "name": name, "bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}


class Driver:
    """A connection to a machine. Every method raises ``MachineRefused`` with the machine's own sentence."""

    def __init__(self, host: str, port: int, secret: str = "", patience: float = PATIENCE) -> None:
        self._address, self._secret, self._patience = (host, port), secret, patience
        self._socket: socket.socket | None = None
        self._held = b""
        self.machine: Message = {}

    def __enter__(self) -> "Driver":
        self.connect()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def connect(self) -> Message:
        """Connect, or connect again; what lies on the machine."""
        self.close()
        host, port = self._address
        try:
            self._socket = socket.create_connection(self._address, self._patience)
        except OSError as error:
            raise MachineRefused(f"No machine answers at {host}:{port}; start it, or check the address.") from error
        self._held = b""
        self.tell({"do": "hello", "version": VERSION, "secret": self._secret})
        answer = self._answer("hello")
        self.machine = answer.get("machine", {})
        state: Message = answer.get("state", {})
        return state

    def close(self) -> None:
        """Let the machine go; a head that sews pauses."""
        if self._socket is not None:
            self._socket.close()
            self._socket = None

    def send_job(self, name: str, data: bytes) -> Message:
        """Send a stitch file; the state of the machine then."""
        self.tell(job_message(name, data), data)
        return self._answer("state")

    def confirm(self, needles: dict[str, str]) -> Message:
        """Say which thread is on which needle."""
        return self._asked({"do": "threads", "needles": needles})

    def start(self) -> Message:
        """Start, or go on."""
        return self._asked({"do": "start"})

    def pause(self) -> Message:
        """Pause."""
        return self._asked({"do": "pause"})

    def back(self, stitches: int) -> Message:
        """Go back by so many stitches."""
        return self._asked({"do": "back", "stitches": stitches})

    def state(self) -> Message:
        """How far it is."""
        return self._asked({"do": "state"})

    def log(self) -> list[str]:
        """What the machine has noted."""
        self.tell({"do": "log"})
        lines = self._answer("log").get("lines", [])
        self._answer("state")
        return [str(one) for one in lines]

    def follow(self) -> Iterator[Message]:
        """What the machine tells while it sews, up to where it waits for somebody or is done."""
        while True:
            message = self.hear()
            yield message
            waits = message.get("says") == "state" and message.get("state") in ("paused", "stopped", "done")
            if waits or message.get("says") == "refused":
                return

    def _asked(self, message: Message) -> Message:
        self.tell(message)
        return self._answer("state")

    def tell(self, message: Message, data: bytes = b"") -> None:
        """Send a message; the machine answers in its own time."""
        if self._socket is None:
            raise MachineRefused("There is no connection to the machine; connect first.")
        try:
            self._socket.sendall(said(message) + data)
        except OSError as error:
            raise MachineRefused("The connection to the machine was lost; connect again, it has paused.") from error

    def _answer(self, wanted: str) -> Message:
        """The next message of a kind; what else the machine tells before is passed over."""
        while True:
            message = self.hear()
            if message.get("says") == "refused":
                raise MachineRefused(str(message.get("why", "The machine refuses.")))
            if message.get("says") == wanted:
                return message

    def hear(self) -> Message:
        """The next message of the machine, waited for."""
        if self._socket is None:
            raise MachineRefused("There is no connection to the machine; connect first.")
        while b"\n" not in self._held:
            if len(self._held) > LONGEST_LINE:
                raise MachineRefused("What answers is no machine; check the address.")
            try:
                more = self._socket.recv(65_536)
            except TimeoutError as error:
                raise MachineQuiet("The machine says nothing.") from error
            except OSError as error:
                raise MachineRefused("The machine does not answer; connect again, it has paused.") from error
            if not more:
                raise MachineRefused("The connection to the machine was lost; connect again, it has paused.")
            self._held += more
        line, self._held = self._held.split(b"\n", 1)
        try:
            return heard(line)
        except CannotRead as error:
            raise MachineRefused("What answers is no machine; check the address.") from error
