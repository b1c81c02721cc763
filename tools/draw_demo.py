"""Draws the demo's artwork: the crest and the crew name bar of Pellan Point Light, as SVG in mm."""

import math
from pathlib import Path

OUT = Path(__file__).parent.parent / "src/jontel/data/demo"


def wavy(radius: float, reach: float, waves: int, phase: float) -> str:
    """A closed line that swings ``reach`` to either side of a circle, as cubic curves."""
    n = waves * 4
    points = []
    for k in range(n):
        t = 2 * math.pi * k / n
        r = radius + reach * math.sin(waves * t + phase)
        dr = reach * waves * math.cos(waves * t + phase)
        x, y = r * math.sin(t), -r * math.cos(t)
        dx, dy = dr * math.sin(t) + r * math.cos(t), -dr * math.cos(t) + r * math.sin(t)
        points.append((x, y, dx * 2 * math.pi / n / 3, dy * 2 * math.pi / n / 3))
    d = f"M{points[0][0]:.3f} {points[0][1]:.3f}"
    for (x0, y0, ax, ay), (x1, y1, bx, by) in zip(points, points[1:] + points[:1], strict=True):
        d += f" C{x0 + ax:.3f} {y0 + ay:.3f} {x1 - bx:.3f} {y1 - by:.3f} {x1:.3f} {y1:.3f}"
    return d + " Z"


def circle(r: float) -> str:
    return f"M0 {-r} A{r} {r} 0 1 1 0 {r} A{r} {r} 0 1 1 0 {-r} Z"


def crest() -> str:
    under = 34.0
    h, m, d = 11.0, 17.5, 24.5
    lap = 1.8  # what lies behind runs on under what lies in front, so that no cloth shows between
    moon = "M17 -19.4 A3.6 3.6 0 1 0 17 -12.2 A3.6 3.6 0 1 0 17 -19.4 Z"
    r = under

    def rim(y: float) -> float:
        return math.sqrt(r**2 - y**2)

    e = h + lap
    sky = f"M{-rim(e):.3f} {e} A{r} {r} 0 1 1 {rim(e):.3f} {e} C18 {e - 2} 10 {e + 2} 0 {e} C-10 {e - 2} -18 {e + 2} {-rim(e):.3f} {e} Z {moon}"

    def sea(top: float, low: float, swing: float, low_swing: float) -> str:
        return (
            f"M{-rim(top):.3f} {top} C-18 {top + swing} -10 {top - swing} 0 {top} C10 {top + swing} 18 {top - swing} {rim(top):.3f} {top} "
            f"A{r} {r} 0 0 1 {rim(low):.3f} {low} C18 {low - low_swing} 9 {low + low_swing} 0 {low} C-9 {low - low_swing} -18 {low + low_swing} {-rim(low):.3f} {low} "
            f"A{r} {r} 0 0 1 {-rim(top):.3f} {top} Z"
        )

    near, mid = sea(h, m + lap, 2, 2), sea(m, d + lap, -2, -2)
    deep = f"M{-rim(d):.3f} {d} C-18 {d + 2} -9 {d - 2} 0 {d} C9 {d + 2} 18 {d - 2} {rim(d):.3f} {d} A{r} {r} 0 0 1 {-rim(d):.3f} {d} Z"
    parts = [
        ("Sky", f'fill="#2d4a70" fill-rule="evenodd" d="{sky}"'),
        ("Moon", 'fill="#f4f1e8" d="M17 -20 A4.2 4.2 0 1 0 17 -11.6 A4.2 4.2 0 1 0 17 -20 Z"'),
        ("Beam_left", 'fill="#eec45a" d="M-3 -16.4 L-26.4 -19.6 L-28.6 -11.8 L-3 -13 Z"'),
        ("Near_sea", f'fill="#2f7f86" d="{near}"'),
        ("Mid_sea", f'fill="#22666f" d="{mid}"'),
        ("Deep_sea", f'fill="#184b56" d="{deep}"'),
        (
            "Rock",
            'fill="#5f5148" d="M-17 16.5 L-12.5 11.2 L-7.5 9.6 L-3 10.4 L4 8.8 L9 10.8 L12 11.6 L18 16.8 C10 18.6 4 17.4 -2 18.4 C-8 19 -12 17.8 -17 16.5 Z"',
        ),
        ("Tower_wall", 'fill="#f4f1e8" d="M-4.2 -9 L4.2 -9 L6.6 11.4 C2 12.4 -2 12.2 -6.6 11.4 Z"'),
        ("Upper_band", 'fill="#b2302f" d="M-4.75 -4.4 L4.75 -4.4 L5.2 -0.6 L-5.2 -0.6 Z"'),
        ("Lower_band", 'fill="#b2302f" d="M-5.65 3.3 L5.65 3.3 L6.1 7.1 L-6.1 7.1 Z"'),
        ("Lantern", 'fill="#f6da7a" d="M-3.2 -17.2 L3.2 -17.2 L3.2 -11 L-3.2 -11 Z"'),
        ("Gallery", 'fill="#23262b" d="M-5.8 -11 L5.8 -11 L5.4 -8.9 L-5.4 -8.9 Z"'),
        ("Roof", 'fill="#b2302f" d="M0 -23.6 L4.4 -17 L-4.4 -17 Z"'),
        ("Window", 'fill="#23262b" d="M-1 0 L1 0 L1 2.9 L-1 2.9 Z"'),
        (
            "Lantern_bars",
            'fill="none" stroke="#23262b" stroke-width="0.5" d="M-1.1 -16.8 L-1.1 -11.4 M1.1 -16.8 L1.1 -11.4"',
        ),
        (
            "Foam",
            'fill="none" stroke="#f4f1e8" stroke-width="0.5" d="M-28 14.6 C-26 13.6 -24 15.6 -21 14.6 C-19.5 14 -18.5 15 -17.5 15 '
            'M20 14.6 C22 13.6 24 15.4 27 14.4 C27.6 14.2 28 14.4 28.4 14.6 M-22 21.4 C-18 19.8 -14 22.6 -9 21.2 C-5 20 -1 22.4 4 21.4 C8 20.6 13 22.6 18 21"',
        ),
        (
            "Gulls",
            'fill="none" stroke="#f4f1e8" stroke-width="0.6" d="M-20 -5.4 C-18.4 -7.4 -16.8 -7 -16 -5.2 C-15.2 -7 -13.6 -7.4 -12 -5.4 '
            'M13.5 -2.6 C14.7 -4.2 15.9 -3.9 16.6 -2.4 C17.3 -3.9 18.5 -4.2 19.7 -2.6"',
        ),
        ("Ring", f'fill="#1d2f55" fill-rule="evenodd" d="{circle(41)} {circle(33)}"'),
    ]
    parts += [
        ('Rope_edge', f'fill="#cf9b54" fill-rule="evenodd" d="{circle(45)} {circle(40.8)}"'),
        ('Rope_twist', f'fill="none" stroke="#a87b35" stroke-width="0.5" d="{wavy(42.9, 1.5, 30, 0)}"'),
        ('Rope_twist_back', f'fill="none" stroke="#a87b35" stroke-width="0.5" d="{wavy(42.9, 1.5, 30, math.pi)}"'),
    ]  # fmt: skip
    return document(parts, 90, 90, "Pellan Point Light, crest")


def name_bar() -> str:
    edge = "M-41 -9.5 L41 -9.5 C42.7 -9.5 44 -8.2 44 -6.5 L44 6.5 C44 8.2 42.7 9.5 41 9.5 L-41 9.5 C-42.7 9.5 -44 8.2 -44 6.5 L-44 -6.5 C-44 -8.2 -42.7 -9.5 -41 -9.5 Z"
    parts = [
        ("Plate", 'fill="#1d2f55" d="M-43 -9.2 L43 -9.2 L43 9.2 L-43 9.2 Z"'),
        ("Lamp", 'fill="#eec45a" d="M-33 -5.6 L-29.6 -1.7 L-31 4.8 L-35 4.8 L-36.4 -1.7 Z"'),
        ("Lamp_glass", 'fill="#f4f1e8" d="M-33 -2.6 L-31.6 -0.6 L-32.2 2.8 L-33.8 2.8 L-34.4 -0.6 Z"'),
    ]
    parts.append(("Border", f'fill="none" stroke="#cf9b54" stroke-width="2.4" d="{edge}"'))
    return document(parts, 92, 22, "Pellan Point Light, crew name bar")


def document(parts: list[tuple[str, str]], width: float, height: float, title: str) -> str:
    body = "\n".join(f'  <path id="{name}" {rest}/>' for name, rest in parts)
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
        f'viewBox="{-width / 2} {-height / 2} {width} {height}">\n  <title>{title}</title>\n{body}\n</svg>\n'
    )


if __name__ == "__main__":
    OUT.mkdir(parents=True, exist_ok=True)
    (OUT / "crest.svg").write_text(crest(), encoding="utf-8")
    (OUT / "name-bar.svg").write_text(name_bar(), encoding="utf-8")
