"""Pictures out: the sewn design as PNG, its thread lit by its direction."""

import io
import math

import numpy as np
from PIL import Image, ImageDraw

from jontel.design.design import Design
from jontel.geometry.polyline import Floats
from jontel.sewing.light import shade
from jontel.sewing.plan import SewPlan

SUPERSAMPLE = 2
MOST_PIXELS = 3000
DIMPLES_FROM, DIMPLE = 6.0, 0.09
"""From so many pixels a mm on needle points show, as dimples of this radius in mm."""


def sewn_lines(plan: SewPlan) -> tuple[Floats, Floats]:
    """Every sewn piece of thread, (n, 2, 2), and the index of its thread, (n,)."""
    rows = np.flatnonzero(plan.sewn())
    return np.stack([plan.xy[rows - 1], plan.xy[rows]], axis=1), plan.thread[rows].astype(np.float64)


def render(plan: SewPlan, design: Design, per_mm: float = 10.0, margin: float = 3.0) -> Image.Image:
    """The design on its cloth, ``per_mm`` pixels a mm, with a margin in mm."""
    lines, owner = sewn_lines(plan)
    if not len(lines):
        return Image.new("RGB", (64, 64), design.brief.ground.colour)
    low, high = lines.min(axis=(0, 1)) - margin, lines.max(axis=(0, 1)) + margin
    per_mm = min(per_mm, MOST_PIXELS / float((high - low).max()))
    scale = per_mm * SUPERSAMPLE
    width, height = (max(8, math.ceil(v * scale)) for v in high - low)
    image = Image.new("RGB", (width, height), design.brief.ground.colour)
    draw = ImageDraw.Draw(image)
    spots = ((lines - low) * scale).round(1).reshape(-1, 4).tolist()
    light = shade(lines)
    rgb = np.array([thread.rgb for thread in plan.threads])[owner.astype(int)]
    colours = np.clip(rgb * light[:, None], 0, 255).astype(int)
    dark = np.clip(rgb * light[:, None] * 0.78, 0, 255).astype(int)
    wide = [max(1, round(t.width * scale) + 1) for t in plan.threads]
    core = [max(1, round(t.width * scale * 0.6)) for t in plan.threads]
    reach = scale * DIMPLE if per_mm >= DIMPLES_FROM else 0.0
    for spot, under, colour, index in zip(
        spots, dark.tolist(), colours.tolist(), owner.astype(int).tolist(), strict=True
    ):
        draw.line(spot, fill=tuple(under), width=wide[index])
        draw.line(spot, fill=tuple(colour), width=core[index])
        if reach > 0:
            x, y = spot[:2]
            draw.ellipse((x - reach, y - reach, x + reach, y + reach), fill=tuple(int(v * 0.7) for v in under))
    return image.resize((width // SUPERSAMPLE, height // SUPERSAMPLE), Image.Resampling.LANCZOS)


def png(plan: SewPlan, design: Design, per_mm: float = 10.0) -> bytes:
    """``render`` as PNG bytes."""
    out = io.BytesIO()
    render(plan, design, per_mm).save(out, "PNG", dpi=(per_mm * 25.4, per_mm * 25.4))
    return out.getvalue()


def preview(plan: SewPlan, design: Design) -> bytes:
    """A small picture for a working file."""
    size = max((float(v) for v in np.ptp(plan.xy, axis=0)), default=100.0) if len(plan) else 100.0
    return png(plan, design, 480 / max(size, 10.0))
