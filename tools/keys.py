"""Writes docs/keyboard.md from the window's own commands, so that the page cannot be wrong."""

import os
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_STATE_HOME"] = os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()

from jontel.app.start import make_application, make_window

HEAD = """# The keyboard

Mouse in the right hand, keyboard in the left. Every command is also in “Find an action” (`Ctrl+K`), which shows its
keys. Single letters work while no text field has the focus; the arrow keys move the selection while the cloth has it.

## From artwork to the machine without a mouse

1. `Ctrl+O`, type the path of the artwork or design, Enter.
2. `Ctrl+1`: Tab to the ground and the hoop, arrow keys choose.
3. `Ctrl+3`: `PgDown` and `PgUp` walk from object to object; Tab to a value, type it with any unit, or step it with the
   arrow keys (Shift steps ten times as far); empty it and press Enter to take the ground's value again.
4. `Ctrl+4`: `Alt+Up`, `Alt+Down`, `Alt+Home`, `Alt+End` resew the selection earlier, later, first, last.
5. `Ctrl+5`: `P` plays; `Ctrl+E` writes the files that are ticked.

## All keys

| keys | command |
|---|---|
"""
TAIL = """
On the cloth: the wheel zooms at the cursor, the middle button or the space bar with the left button pans, a double click
on empty cloth shows the whole design. Shift adds to the selection, keeps a move straight, a side handle free, a
rectangle square, and turns in steps of 15 degrees. Escape lets go. With a drawing tool, Enter or the right button
finishes, Backspace takes the last point back, the arrow keys move the cloth. Bending: `1` `2` `3` make nodes corner, smooth,
symmetric, `Del` and `Ins` take out and put in, `K` cuts, `J` joins, Tab goes on, arrows move by 0.1 mm. Hold `F1` over
anything, and it explains itself. On the needle track: the wheel zooms, Shift and the wheel scroll, a double click shows all.
"""


def main() -> None:
    """Write the page."""
    app = make_application()
    window = make_window()
    rows = [
        f"| `{action.shortcut().toString()}` | {action.text().rstrip('…')} |"
        for action in window.command_actions
        if not action.shortcut().isEmpty()
    ]
    page = Path(__file__).parent.parent / "docs/keyboard.md"
    page.write_text(HEAD + "\n".join(rows) + "\n" + TAIL, encoding="utf-8")
    app.quit()


if __name__ == "__main__":
    main()
