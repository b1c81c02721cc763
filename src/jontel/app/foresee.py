"""The bar over the cloth in the Forecast view: how large movements are shown, strain, and the edges solved."""

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtWidgets import QCheckBox, QFrame, QHBoxLayout, QSlider, QWidget

from jontel.app.forecasting import MOST_EXAGGERATED
from jontel.app.panels.parts import button, label
from jontel.app.session import Document

TOP = 12
STEPS = 4
"""The slider has so many steps for each whole number."""


class ForecastBar(QFrame):
    """Shown over the cloth while its view is the forecast."""

    def __init__(self, host: QWidget) -> None:
        super().__init__(host)
        self.setObjectName("forecastBar")
        self.setProperty("role", "popup")
        self._host = host
        self.document: Document | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 6, 10, 6)
        row.setSpacing(8)
        self.said = label("As it will lie", "")
        self.said.setObjectName("forecastSaid")
        row.addWidget(self.said)
        self.factor = label("× 1", "muted")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("exaggerate")
        self.slider.setAccessibleName("Show movements larger")
        self.slider.setToolTip("Show movements so many times as large")
        self.slider.setRange(STEPS, int(MOST_EXAGGERATED) * STEPS)
        self.slider.setFixedWidth(110)
        self.slider.valueChanged.connect(self._exaggerate)
        row.addWidget(self.slider)
        row.addWidget(self.factor)
        self.strain = QCheckBox("Strain")
        self.strain.setObjectName("showStrain")
        self.strain.setToolTip("Where the cloth is drawn together, and how much")
        self.strain.clicked.connect(self._strain)
        row.addWidget(self.strain)
        self.solve = button("Solve the edges", "solveEdges", self._solve, "main")
        self.solve.setToolTip("Work out what has to be sewn so that the cloth ends up as drawn: selection or all")
        row.addWidget(self.solve)
        self.release = button("Release", "releaseEdges", self._release)
        self.release.setToolTip("Compensate by the numbers of the ground again")
        row.addWidget(self.release)
        host.installEventFilter(self)
        self.hide()

    def show_document(self, document: Document | None) -> None:
        """Show another document."""
        if self.document is not None:
            self.document.forecasting.changed.disconnect(self.refresh)
            self.document.design_changed.disconnect(self.refresh)
        self.document = document
        if document is not None:
            document.forecasting.changed.connect(self.refresh)
            document.design_changed.connect(self.refresh)
        self.refresh()

    def show_view(self, view: str) -> None:
        """Be there in the Forecast view."""
        self.setVisible(view == "forecast" and self.document is not None)
        self.refresh()

    def refresh(self) -> None:
        """Say what the forecast says."""
        document = self.document
        if document is None or self.isHidden():
            return
        forecasting, design = document.forecasting, document.history.design
        old = forecasting.seen.stale if forecasting.seen is not None else frozenset()
        some = any(item.solved is not None for item in design.objects)
        self.release.setVisible(some)
        self.solve.setText("Solve again" if some and old else "Solve the edges")
        seen = forecasting.seen
        if seen is None:
            self.said.setText("Working it out…")
        elif old:
            self.said.setText("The edges are solved for an earlier state")
        else:
            count = sum(one.open for one in seen.seams)
            parts = f"{count} {'seam opens' if count == 1 else 'seams open'}" if count else "no seam opens"
            if forecasting.strained:
                parts = f"cloth drawn together by up to {abs(float(seen.moment.strain.min())):.0%}"
            self.said.setText(f"As it will lie: {parts}")
        self._place()

    def _place(self) -> None:
        self.adjustSize()
        self.move(max(0, (self._host.width() - self.width()) // 2), TOP + 18)
        self.raise_()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Stay in the middle."""
        if event is not None and event.type() == QEvent.Type.Resize and self.isVisible():
            self._place()
        return super().eventFilter(watched, event)

    def _exaggerate(self, value: int) -> None:
        self.factor.setText(f"× {value / STEPS:g}")
        if self.document is not None:
            self.document.forecasting.show(exaggerated=value / STEPS)

    def _strain(self, on: bool) -> None:
        if self.document is not None:
            self.document.forecasting.show(strained=on)

    def _solve(self) -> None:
        if self.document is not None:
            self.said.setText("Solving the edges…")
            self.document.forecasting.solve()

    def _release(self) -> None:
        if self.document is not None:
            self.document.forecasting.release()
