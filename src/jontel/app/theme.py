"""The look: warm linen greys, ink, one verdigris accent, amber for attention, madder for what spoils."""

from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from jontel.data import resource

ANSWER = 132
"""How much room the answer to a notice has, px."""
RADIUS = 6


@dataclass(frozen=True)
class Theme:
    """Every colour of the interface, by what it is for."""

    name: str
    strip: str
    surface: str
    field: str
    table: str
    well: str
    ink: str
    muted: str
    faint: str
    line: str
    accent: str
    accent_soft: str
    on_accent: str
    amber: str
    amber_soft: str
    madder: str
    madder_soft: str
    hoop: str

    def colour(self, role: str, alpha: int = 255) -> QColor:
        """A colour of the theme for painting."""
        found = QColor(getattr(self, role))
        found.setAlpha(alpha)
        return found


LIGHT = Theme(
    name="light",
    strip="#e7ded1",
    surface="#f8f5ee",
    field="#fffefb",
    table="#d9d1c4",
    well="#efe8dc",
    ink="#27302e",
    muted="#77716a",
    faint="#a79f94",
    line="#d8cfc1",
    accent="#1c7668",
    accent_soft="#d6e8e2",
    on_accent="#ffffff",
    amber="#9a6411",
    amber_soft="#f6dfb0",
    madder="#a3282f",
    madder_soft="#f3d3d1",
    hoop="#a89c8c",
)
DARK = Theme(
    name="dark",
    strip="#23221f",
    surface="#2b2a27",
    field="#343330",
    table="#1b1a18",
    well="#242320",
    ink="#ece6db",
    muted="#a69e92",
    faint="#746d64",
    line="#403d38",
    accent="#55b8a5",
    accent_soft="#264740",
    on_accent="#10211d",
    amber="#e8b65c",
    amber_soft="#4c3b1b",
    madder="#e6787a",
    madder_soft="#512a2b",
    hoop="#57514a",
)
THEMES = {theme.name: theme for theme in (LIGHT, DARK)}


def load_fonts() -> None:
    """Make the shipped typeface known; it stays installed for this process only."""
    for weight in ("Regular", "Medium", "SemiBold"):
        QFontDatabase.addApplicationFontFromData(resource(f"fonts/IBMPlexSans-{weight}.ttf"))


def font(points: float = 10, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """The interface's typeface with tabular figures, in px for a 96 dpi screen."""
    made = QFont("IBM Plex Sans")
    made.setPixelSize(round(points * 4 / 3))
    made.setWeight(weight)
    if hasattr(made, "setFeature"):
        made.setFeature(QFont.Tag("tnum"), 1)
    return made


def apply(app: QApplication, theme: Theme) -> None:
    """Dress the whole application, which takes half a second: not where it wears the theme already."""
    if app.styleSheet() == sheet(theme):
        return
    app.setStyle("Fusion")
    app.setFont(font(9.75))
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, theme.surface),
        (roles.Base, theme.field),
        (roles.AlternateBase, theme.well),
        (roles.Button, theme.field),
        (roles.WindowText, theme.ink),
        (roles.Text, theme.ink),
        (roles.ButtonText, theme.ink),
        (roles.Highlight, theme.accent),
        (roles.HighlightedText, theme.on_accent),
        (roles.PlaceholderText, theme.faint),
        (roles.ToolTipBase, theme.ink),
        (roles.ToolTipText, theme.surface),
    ):
        palette.setColor(role, QColor(colour))
    palette.setColor(QPalette.ColorGroup.Disabled, roles.Text, QColor(theme.faint))
    palette.setColor(QPalette.ColorGroup.Disabled, roles.ButtonText, QColor(theme.faint))
    app.setPalette(palette)
    app.setStyleSheet(sheet(theme))


def caret_file(t: Theme) -> str:
    """The small arrow of a drop-down list; style sheets take pictures from files only."""
    return (Path(__file__).parent.parent / f"data/icons/caret-{t.name}.png").as_posix()


def sheet(t: Theme) -> str:
    """The style sheet: one radius, a 4 px grid, no frames within frames."""
    return f"""
    QWidget {{ color: {t.ink}; font-family: "IBM Plex Sans"; font-size: 13px; }}
    QToolTip {{ background: {t.ink}; color: {t.surface}; border: none; padding: 4px 8px; }}
    #strip, #tabs {{ background: {t.strip}; }}
    #stageRow, #rail, #panel, #status {{ background: {t.surface}; }}
    #stageRow {{ border-bottom: 1px solid {t.line}; }}
    #rail {{ border-right: 1px solid {t.line}; }}
    #panel {{ border-left: 1px solid {t.line}; }}
    #status {{ border-top: 1px solid {t.line}; }}
    #trackArea {{ background: {t.strip}; border-top: 1px solid {t.line}; }}
    QLabel[role="title"] {{ font-size: 16px; font-weight: 600; }}
    QLabel[role="section"] {{ color: {t.muted}; font-size: 11px; font-weight: 600; }}
    QLabel[role="muted"] {{ color: {t.muted}; }}
    QLabel[role="attention"] {{ background: {t.amber_soft}; color: {t.amber}; border-radius: {RADIUS}px; padding: 6px 8px; }}
    QLabel[role="number"] {{ font-weight: 600; }}
    QTabBar#designTabs {{ background: {t.strip}; }}
    QTabBar#designTabs::tab {{ background: transparent; color: {t.muted}; padding: 8px 8px 8px 14px; margin-top: 6px;
        border-top-left-radius: {RADIUS}px; border-top-right-radius: {RADIUS}px; }}
    QTabBar#designTabs::tab:selected {{ background: {t.surface}; color: {t.ink}; font-weight: 600; }}
    QTabBar#designTabs::tab:hover:!selected {{ color: {t.ink}; }}
    QLineEdit, QComboBox, QPlainTextEdit {{ background: {t.field}; border: 1px solid {t.line}; border-radius: {RADIUS}px;
        padding: 2px 8px; min-height: 18px; selection-background-color: {t.accent}; selection-color: {t.on_accent}; }}
    QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus {{ border: 1px solid {t.accent}; }}
    QLineEdit[inherited="true"] {{ color: {t.faint}; background: {t.surface}; }}
    QLineEdit[wrong="true"] {{ border: 1px solid {t.madder}; }}
    QLineEdit#find {{ background: {t.surface}; }}
    QComboBox::drop-down {{ border: none; width: 22px; }}
    QComboBox::down-arrow {{ image: url({caret_file(t)}); width: 12px; height: 12px; }}
    QComboBox QAbstractItemView {{ background: {t.field}; border: 1px solid {t.line}; padding: 4px; outline: none; }}
    QPushButton {{ background: {t.field}; border: 1px solid {t.line}; border-radius: {RADIUS}px; padding: 5px 12px; min-height: 18px; }}
    QPushButton[kind="small"] {{ padding: 3px 4px; min-height: 16px; }}
    QPushButton[kind="small"]:checked {{ background: {t.accent_soft}; border-color: {t.accent}; color: {t.accent}; }}
    QPushButton:hover {{ border-color: {t.accent}; }}
    QPushButton:focus {{ border-color: {t.accent}; }}
    QPushButton:disabled {{ color: {t.faint}; }}
    QPushButton[kind="main"] {{ background: {t.accent}; border-color: {t.accent}; color: {t.on_accent}; font-weight: 600; }}
    QPushButton[kind="main"]:disabled {{ background: {t.field}; border-color: {t.line}; color: {t.faint}; }}
    QPushButton[kind="link"] {{ border: none; background: transparent; color: {t.accent}; padding: 2px 4px; text-align: left; font-weight: 600; }}
    QPushButton[kind="row"] {{ border: none; background: transparent; padding: 2px 2px; text-align: left; }}
    QPushButton[kind="row"]:hover {{ background: {t.well}; }}
    QPushButton[kind="link"]:disabled {{ color: {t.faint}; }}
    QToolButton {{ border: none; background: transparent; border-radius: {RADIUS}px; padding: 4px; }}
    QToolButton:hover {{ background: {t.accent_soft}; }}
    QToolButton:focus {{ border: 1px solid {t.accent}; }}
    QToolButton:checked {{ background: {t.accent_soft}; }}
    QToolButton[kind="stage"] {{ padding: 12px 8px 9px 8px; border-radius: 0; color: {t.muted}; border-bottom: 3px solid transparent; }}
    QToolButton[kind="stage"]:checked {{ background: transparent; color: {t.ink}; font-weight: 600; border-bottom: 3px solid {t.accent}; }}
    QToolButton[kind="view"] {{ border: 1px solid {t.line}; border-radius: 0; padding: 4px 13px; background: {t.field}; }}
    QToolButton#view-Plan {{ border-top-left-radius: {RADIUS}px; border-bottom-left-radius: {RADIUS}px; border-right: none; }}
    QToolButton#view-Cloth {{ border-left: none; border-right: none; }}
    QToolButton#view-Forecast {{ border-top-right-radius: {RADIUS}px; border-bottom-right-radius: {RADIUS}px; }}
    QToolButton[kind="view"]:checked {{ background: {t.accent_soft}; color: {t.accent}; font-weight: 600; }}
    QToolButton[kind="layer"] {{ text-align: left; }}
    QToolButton[kind="group"] {{ text-align: left; padding: 3px 0; color: {t.muted}; font-weight: 600; }}
    QToolButton[kind="group"]:checked {{ background: transparent; color: {t.ink}; }}
    QListView, QListWidget, QScrollArea {{ background: transparent; border: none; outline: none; }}
    QListWidget::item {{ padding: 2px 4px; border-radius: {RADIUS}px; }}
    QListWidget::item:selected {{ background: {t.accent_soft}; color: {t.ink}; }}
    QCheckBox {{ spacing: 8px; }}
    QSlider::groove:horizontal {{ height: 2px; background: {t.line}; }}
    QSlider::sub-page:horizontal {{ background: {t.accent}; }}
    QSlider::handle:horizontal {{ width: 12px; height: 12px; margin: -5px 0; border-radius: 6px; background: {t.accent}; }}
    QScrollBar:vertical {{ width: 8px; background: transparent; }}
    QScrollBar::handle:vertical {{ background: {t.line}; border-radius: 4px; min-height: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QMenu {{ background: {t.field}; border: 1px solid {t.line}; padding: 4px; }}
    QMenu::item {{ padding: 5px 24px 5px 12px; border-radius: {RADIUS}px; }}
    QMenu::item:selected {{ background: {t.accent_soft}; }}
    QFrame[role="card"] {{ background: {t.well}; border-radius: {RADIUS}px; }}
    QFrame[role="popup"] {{ background: {t.field}; border: 1px solid {t.line}; border-radius: {RADIUS}px; }}
    QFrame[role="rule"] {{ background: {t.line}; max-height: 1px; min-height: 1px; }}
    QLabel[severity="spoils"] {{ color: {t.madder}; }}
    #notice {{ background: {t.ink}; color: {t.surface}; border-radius: {RADIUS}px; padding: 8px 12px; }}
    #notice[asks="yes"] {{ padding: 13px {ANSWER + 12}px 13px 12px; }}
    #notice[severity="spoils"] {{ background: {t.madder}; color: {t.surface}; }}
    """
