"""Rebalance: spacings and lengths of many objects scaled together, and seen before they are taken."""

from msgspec.structs import replace
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from jontel.app.panels.parts import NumberField, PinnedRow, button, label
from jontel.app.panels.underlay import passes_of
from jontel.app.session import Document
from jontel.app.theme import Theme
from jontel.design import Design
from jontel.design.design import LEAST_STITCH
from jontel.design.rebalance import SCALED, Scaled, Scales, rebalanced
from jontel.design.units import Unit
from jontel.design.words import grouped, minutes


class RebalanceEditor(QWidget):
    """Scales what is selected, or everything when nothing is; the cloth shows it until it is applied or left."""

    def __init__(self, document: Document, theme: Theme, unit: Unit) -> None:
        super().__init__()
        self._document, self._unit = document, unit
        self.scales = Scales()
        self._before: tuple[int, float] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.heading = label("REBALANCE", "section")
        column.addWidget(self.heading)
        self.fields: dict[Scaled, NumberField] = {}
        for name, title in SCALED.items():
            field = NumberField(f"rebalance-{name[0]}_{name[1]}", title, "percent", 20, 500, 5)
            field.entered.connect(lambda value, name=name: self._scale(name, value))
            column.addWidget(PinnedRow(title, field, None, theme))
            self.fields[name] = field
        self.underlay = QCheckBox("The underlay too")
        self.underlay.setObjectName("rebalance-underlay")
        self.underlay.clicked.connect(self._with_underlay)
        column.addWidget(self.underlay)
        self.forecast = label("\n")
        self.forecast.setObjectName("rebalanceCount")
        column.addWidget(self.forecast)
        foot = QHBoxLayout()
        self.apply = button("Apply", "rebalanceApply", self._apply, "main")
        self.leave = button("Leave it", "rebalanceLeave", self.give_up)
        foot.addWidget(self.leave)
        foot.addWidget(self.apply)
        column.addLayout(foot)
        self.least = NumberField("leastStitch", "Merge stitches under", "length", *LEAST_STITCH, 0.1)
        self.least.entered.connect(self._set_least)
        column.addWidget(label("SHORT STITCHES", "section"))
        column.addWidget(PinnedRow("Merge stitches under", self.least, None, theme))
        self.merged = label("", "muted", wrap=True)
        self.merged.setObjectName("mergedCount")
        column.addWidget(self.merged)
        document.sewn_changed.connect(self.refresh)
        document.selection_changed.connect(self.give_up)
        self.refresh()

    def _ids(self) -> frozenset[int]:
        design = self._document.history.design
        return self._document.selection or frozenset(item.id for item in design.objects)

    @property
    def waiting(self) -> bool:
        """Whether something is scaled and not yet applied."""
        return bool(self.scales.percents)

    def refresh(self) -> None:
        """Show the scales, and the stitches and time before and after."""
        chosen = len(self._document.selection)
        words = f"{chosen} OBJECT{'' if chosen == 1 else 'S'}" if chosen else "THE WHOLE DESIGN"
        self.heading.setText(f"REBALANCE {words}")
        for name, field in self.fields.items():
            value = self.scales.percent(name)
            field.show_value(value, value == 100.0, self._unit)
        sewn = self._document.sewn
        if sewn is None:
            return
        now = (sewn.totals.stitches, sewn.totals.seconds)
        if not self.waiting or self._before is None:
            self._before = now
        before = self._before
        words = f"{grouped(before[0])} stitches, {minutes(before[1])}"
        if self.waiting and sewn.design is self._document.design:
            words += f"\n→ {grouped(now[0])} stitches, {minutes(now[1])}"
        self.forecast.setText(words if "\n" in words else f"{words}\n")
        self.apply.setEnabled(self.waiting)
        self.leave.setEnabled(self.waiting)
        least = self._document.design.least_stitch
        self.least.show_value(least, least == 0.0, self._unit)
        count = sum(sewn.plan.merged.values())
        stitches = f"{count} shorter stitch{'' if count == 1 else 'es'} merged"
        self.merged.setText(
            f"{stitches} in {len(sewn.plan.merged)} object{'' if len(sewn.plan.merged) == 1 else 's'}."
            if count
            else "Nothing is shorter, so nothing is merged."
            if least > 0
            else "0 leaves every stitch as it is."
        )

    def _scaled(self) -> Design:
        return rebalanced(
            self._document.history.design, self._ids(), self.scales, lambda item: passes_of(self._document, item)
        )

    def _scale(self, name: Scaled, percent: float) -> None:
        self.scales = self.scales.with_percent(name, percent)
        self._document.preview(self._scaled() if self.waiting else None)
        self.refresh()

    def _with_underlay(self, on: bool) -> None:
        self.scales = replace(self.scales, underlay=on)
        if self.waiting:
            self._document.preview(self._scaled())

    def _apply(self) -> None:
        made, self.scales, self._before = self._scaled(), Scales(underlay=self.scales.underlay), None
        self._document.edit("Rebalance", made)
        self.refresh()

    def give_up(self) -> None:
        """Go back to the design as it is."""
        if self.waiting:
            self.scales = Scales(underlay=self.scales.underlay)
            self._document.preview(None)
        self.refresh()

    def _set_least(self, mm: float) -> None:
        self._document.edit("Least stitch", replace(self._document.history.design, least_stitch=mm))
