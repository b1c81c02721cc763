"""SVG out: as stitches, one path a thread, or as the outlines that were drawn."""

from xml.sax.saxutils import escape, quoteattr

import numpy as np

from jontel.design.design import Design
from jontel.design.kinds import traits_of
from jontel.design.shapes import Area, Column, Line
from jontel.geometry.columns import covered, rails_of
from jontel.geometry.region import path_of
from jontel.sewing.plan import SewPlan

RUN_WIDTH = 0.4
"""How wide a run is drawn among outlines, mm: one thread."""


def stitches(plan: SewPlan, design: Design) -> bytes:
    """Every thread as one path of straight stitches, at its thickness, in mm."""
    body: list[str] = []
    sewn = plan.sewn()
    for index, thread in enumerate(plan.threads):
        own = plan.thread == index
        parts: list[str] = []
        rows = np.flatnonzero(own & sewn)
        for run in np.split(rows, np.flatnonzero(np.diff(rows) > 1) + 1):
            if len(run):
                points = plan.xy[run[0] - 1 : run[-1] + 1].tolist()
                parts.append("M" + " ".join(f"{x:.3f},{y:.3f}" for x, y in points))
        body.append(
            f'<path id={quoteattr("thread-" + thread.code)} fill="none" stroke="{thread.colour}" '
            f'stroke-width="{thread.width}" stroke-linejoin="round" stroke-linecap="round" d="{" ".join(parts)}">'
            f"<title>{escape(thread.code + ' ' + thread.name)}</title></path>"
        )
    return _document(body, plan, design.name)


def outlines(plan: SewPlan, design: Design) -> bytes:
    """Every object as the shape that was drawn: areas filled, lines stroked at their width."""
    body: list[str] = []
    for item in design.objects:
        colour, name = design.thread(item.thread).colour, quoteattr(item.name)
        match item.shape:
            case Area(path, rule) if traits_of(item.cover).hides:
                body.append(f'<path id={name} fill="{colour}" fill-rule="{rule}" d="{path}"/>')
            case Area(path) | Line(path):
                rows = traits_of(item.cover).rows
                width = item.shape.width if rows == "edge to edge" and isinstance(item.shape, Line) else RUN_WIDTH
                body.append(f'<path id={name} fill="none" stroke="{colour}" stroke-width="{width}" d="{path}"/>')
            case Column():
                shape = path_of(covered(rails_of(item.shape)))
                body.append(f'<path id={name} fill="{colour}" d="{shape}"/>')
    return _document(body, plan, design.name)


def _document(body: list[str], plan: SewPlan, title: str) -> bytes:
    points = plan.xy if len(plan) else np.zeros((1, 2))
    low, high = points.min(axis=0) - 1, points.max(axis=0) + 1
    width, height = high - low
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" version="1.1" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="{low[0]:.3f} {low[1]:.3f} {width:.3f} {height:.3f}">',
        f"<title>{escape(title)}</title>",
        *body,
        "</svg>",
    ]
    return ("\n".join(lines) + "\n").encode()
