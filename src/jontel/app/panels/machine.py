"""Handing a design to a machine on the network: connect, send, threads on needles, start, pause, back, go on."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QProgressBar, QVBoxLayout, QWidget

from jontel.app.machining import MachineLine
from jontel.app.panels.parts import button, label
from jontel.app.session import Document
from jontel.design.words import grouped, minutes
from jontel.files import gcode
from jontel.files.formats import stem_of
from jontel.machine.talk import PORT
from jontel.stitching.stitches import Kind

BACK = 10
"""So many stitches the head goes back at a press."""
WAITS = ("stop", "thread break", "bobbin out")


class MachineBox(QWidget):
    """Drives a machine; what it has sewn shows on the cloth."""

    told = pyqtSignal(str, str)

    def __init__(self, aside: Callable[[str, Callable[[], bytes]], bytes | None]) -> None:
        super().__init__()
        self._aside = aside
        self._document: Document | None = None
        self._sent: tuple[Document, object] | None = None
        self._state: dict[str, Any] = {}
        self._rows: np.ndarray[Any, np.dtype[np.int64]] = np.zeros(0, dtype=np.int64)
        self.line = MachineLine(self)
        self.line.said.connect(self._heard)
        self.line.lost.connect(self._lost)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        row = QHBoxLayout()
        self.address = QLineEdit(f"127.0.0.1:{PORT}")
        self.address.setObjectName("machineAddress")
        self.address.setAccessibleName("Address of the machine")
        self.secret = QLineEdit()
        self.secret.setObjectName("machineSecret")
        self.secret.setPlaceholderText("secret")
        self.secret.setEchoMode(QLineEdit.EchoMode.Password)
        self.secret.setAccessibleName("Secret of the machine")
        row.addWidget(self.address, 3)
        row.addWidget(self.secret, 2)
        column.addLayout(row)
        self.connection = button("Connect", "machineConnect", self._connect)
        column.addWidget(self.connection)
        self.words = label("“jontel machine” starts one on this computer.", "muted", wrap=True)
        self.words.setObjectName("machineSays")
        column.addWidget(self.words)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        column.addWidget(self.bar)
        acts = QHBoxLayout()
        self.send = button("Send the design", "machineSend", self._send, "main")
        self.go = button("Start", "machineGo", self._go, "main")
        self.pause = button("Pause", "machinePause", lambda: self.line.ask({"do": "pause"}))
        self.back = button(f"Back {BACK}", "machineBack", lambda: self.line.ask({"do": "back", "stitches": BACK}))
        for one in (self.send, self.go, self.pause, self.back):
            acts.addWidget(one)
        column.addLayout(acts)
        self._show()

    def show_document(self, document: Document | None) -> None:
        """Which design is sent next."""
        self._document = document
        self._show()

    def _connect(self) -> None:
        if self.line.is_open:
            self.line.close()
            self._state = {}
            self.words.setText("Let go; a head that sewed has paused.")
            self._show()
            return
        host, _, port = self.address.text().strip().rpartition(":")
        if not port.isdigit() or not 0 < int(port) < 65_536:
            self.told.emit("The address of a machine is a name and a port, as in 127.0.0.1:7420.", "spoils")
            return
        self.words.setText(f"Looking for a machine at {host or '127.0.0.1'}:{port}…")
        self.line.open(host or "127.0.0.1", int(port), self.secret.text())
        self._show()

    def _send(self) -> None:
        document = self._document
        if document is None or document.sewn is None:
            return
        sewn, design = document.sewn.plan, document.sewn.design
        data = self._aside("Writing the machine file", lambda: gcode.write(sewn, design))
        if data is not None:
            self._sent = (document, sewn)
            self._rows = np.flatnonzero(sewn.kind == Kind.STITCH)
            self.line.send_job(f"{stem_of(design)}.ngc", data)

    def _go(self) -> None:
        threads = self._state.get("threads", [])
        if self._state.get("state") == "threading":
            self.line.ask({"do": "threads", "needles": {str(k): one for k, one in enumerate(threads, 1)}})
        else:
            self.line.ask({"do": "start"})

    # what the machine says

    def _heard(self, message: dict[str, Any]) -> None:
        match message.get("says"):
            case "hello":
                self.words.setText(f"{message.get('machine', {}).get('name', 'A machine')} is there.")
            case "refused":
                self.told.emit(str(message.get("why", "The machine refuses.")), "spoils")
            case "state":
                self._state = message
                self._follow()
            case word if word in WAITS:
                self._state = {**self._state, "state": "stopped"}
                self.told.emit(f"The machine waits at stitch {message['stitch']}: {word}: {message['note']}.", "look")
        self._show()

    def _follow(self) -> None:
        """Say how far it is, and show it on the cloth."""
        state = self._state
        if not state.get("job"):
            self.words.setText("No job lies on the machine: send the design.")
            return
        stitch, whole = int(state["stitch"]), int(state["stitches"])
        self.bar.setRange(0, max(whole, 1))
        self.bar.setValue(stitch)
        needles = ", ".join(f"{number} {one}" for number, one in enumerate(state["threads"], 1))
        said = {
            "threading": f"{state['job']}: put the threads on their needles: {needles}.",
            "ready": f"{state['job']} is ready, {grouped(whole)} stitches.",
            "done": f"{state['job']} is sewn, {minutes(float(state['seconds']))}.",
        }
        where = f"stitch {grouped(stitch)} of {grouped(whole)}, {state['thread']}"
        self.words.setText(said.get(str(state["state"]), f"{str(state['state']).capitalize()}: {where}."))
        if self._sent is not None and self._sent[0] is self._document and len(self._rows) == whole:
            document, sewn = self._sent
            if (
                document.sewn is not None
                and document.sewn.plan is sewn
                and state["state"] not in ("threading", "ready")
            ):
                document.show_moment(int(self._rows[stitch - 1]) if stitch else 0)

    def _lost(self, why: str) -> None:
        self.line.close()
        self._state = {}
        self.words.setText(why or "The connection was lost; the head has paused. Connect again to go on.")
        self._show()

    def _show(self) -> None:
        state = self._state.get("state", "") if self.line.is_open else ""
        known = self.line.is_open and "says" in self._state
        self.connection.setText("Let the machine go" if self.line.is_open else "Connect")
        self.send.setVisible(bool(known and state in ("", "threading", "ready", "done")))
        self.send.setEnabled(self._document is not None)
        self.go.setVisible(state in ("threading", "ready", "paused", "stopped"))
        self.go.setText({"threading": "Threads are on", "ready": "Start"}.get(state, "Go on"))
        self.pause.setVisible(state == "sewing")
        self.back.setVisible(state in ("paused", "stopped"))
        self.bar.setVisible(bool(state))

    def end(self) -> None:
        """Let the machine go."""
        self.line.close()
