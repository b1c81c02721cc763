"""The connection to a machine, kept by a thread of its own: what is told comes as signals."""

from __future__ import annotations

import threading
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from jontel.design.errors import JontelError
from jontel.machine.driver import Driver, MachineQuiet, job_message

LISTENS = 1.0
"""So many seconds at a time are waited for the machine."""


class MachineLine(QObject):
    """A connection that one machine at a time has."""

    said = pyqtSignal(dict)
    """Whatever the machine says; ``{"says": "hello", …}`` first."""
    lost = pyqtSignal(str)
    """The connection is gone, and why."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._driver: Driver | None = None
        self._ended = threading.Event()

    @property
    def is_open(self) -> bool:
        """Whether there is a connection, or one is being made."""
        return self._driver is not None

    def open(self, host: str, port: int, secret: str) -> None:
        """Connect, and listen until it is closed."""
        self.close()
        driver, ended = Driver(host, port, secret, LISTENS), threading.Event()
        self._driver, self._ended = driver, ended

        def listen() -> None:
            why = ""
            try:
                state = driver.connect()
                self.said.emit({"says": "hello", "machine": driver.machine})
                self.said.emit(state)
                while not ended.is_set():
                    try:
                        self.said.emit(driver.hear())
                    except MachineQuiet:
                        continue
            except JontelError as error:
                why = str(error)
            driver.close()
            if not ended.is_set():
                self.lost.emit(why)

        threading.Thread(target=listen, name="machine", daemon=True).start()

    def ask(self, message: dict[str, Any]) -> None:
        """Send a message, if there is a connection."""
        self._tell(message, b"")

    def send_job(self, name: str, data: bytes) -> None:
        """Send a stitch file."""
        self._tell(job_message(name, data), data)

    def _tell(self, message: dict[str, Any], data: bytes) -> None:
        if self._driver is not None:
            try:
                self._driver.tell(message, data)
            except JontelError as error:
                self.lost.emit(str(error))

    def close(self) -> None:
        """Let the machine go; a head that sews pauses."""
        self._ended.set()
        if self._driver is not None:
            self._driver.close()
            self._driver = None
