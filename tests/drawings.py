"""Small SVG drawings, one feature each, and drawings put together at random: what reading one is measured on."""

import random

HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" height="100mm" '
    'viewBox="0 0 100 100">'
)
WAY = "M20 70 C20 20 60 20 80 60"
LINE = f'<path d="{WAY}" fill="none" stroke="black"'
BOX = '<rect x="10" y="10" width="60" height="30" fill="red"'
ALL = '<rect width="100" height="100" fill="red"'
DISC = '<circle cx="40" cy="40" r="20"'
ARROW = '<path d="M0 0L10 5L0 10z" fill="red"/></marker>'
SMALL = 'viewBox="0 0 10 10" refX="5" refY="5" markerWidth="4" markerHeight="4"'
ROUND = '<circle cx="5" cy="5" r="5" fill="red"/></svg>'
PAGE = 'maskUnits="userSpaceOnUse" x="0" y="0" width="100" height="100"'

FEATURES = {
    "rectangle": f"{BOX}/>",
    "round corners": f'{BOX} rx="10"/>',
    "corners of two radii": f'{BOX} rx="30" ry="5"/>',
    "ellipse": '<ellipse cx="50" cy="50" rx="30" ry="10" fill="green"/>',
    "percent": '<circle cx="50%" cy="50%" r="20%"/><rect x="10%" y="80%" width="50%" height="5%"/>',
    "polygon": '<polygon points="10,10 80,20 50,90" fill="navy"/>',
    "filled polyline": '<polyline points="10,10 80,20 50,90" fill="orange" stroke="navy" stroke-width="4"/>',
    "arc": '<path d="M20 50 A30 20 30 1 1 70 60 Z" fill="purple"/>',
    "flags without blanks": '<path d="M20 50a30 20 30 01 50 10z" fill="purple"/>',
    "relative, even-odd": '<path d="m20 20 h30 v30 h-30 z m10 10 h10 v10 h-10z" fill="teal" fill-rule="evenodd"/>',
    "smooth cubics": '<path d="M10 50 C 20 10 40 10 50 50 S 80 90 90 50" fill="none" stroke="black" stroke-width="5"/>',
    "smooth quadratics": '<path d="M10 50 Q 25 10 40 50 T 70 50 T 90 40" fill="none" stroke="#123" stroke-width="5"/>',
    "goes on after closing": '<path d="M10 10 h20 v20 z l0 40 h20 z" fill="teal"/>',
    "round caps": f'{LINE} stroke-width="12" stroke-linecap="round"/>',
    "square caps": f'{LINE} stroke-width="12" stroke-linecap="square"/>',
    "dashes": f'{LINE} stroke-width="6" stroke-dasharray="10 5"/>',
    "odd dashes": f'{LINE} stroke-width="6" stroke-dasharray="10 5 3"/>',
    "dashes later": f'{LINE} stroke-width="6" stroke-dasharray="10,5" stroke-dashoffset="7"/>',
    "dashes round": f'{DISC} fill="none" stroke="black" stroke-width="6" stroke-dasharray="10,5"/>',
    "scaled dashes": f'<g transform="scale(.5)">{LINE} stroke-width="6" stroke-dasharray="10,5"/></g>',
    "uneven dashes": f'<g transform="scale(1 .4)">{LINE} stroke-width="8" stroke-dasharray="10,5"/></g>',
    "uneven stroke": '<g transform="scale(2 1)"><circle cx="22" cy="50" r="15" fill="none" stroke="#000" '
    'stroke-width="4"/></g>',
    "skewed stroke": '<g transform="translate(20 10) skewX(30)"><rect y="10" width="30" height="40" fill="none" '
    'stroke="black" stroke-width="6"/></g>',
    "mirrored": '<g transform="translate(100 0) scale(-1 1)"><path d="M10 10 L50 10 L10 60 Z" fill="red"/></g>',
    "matrix": f'{BOX} transform="matrix(1 .5 -.3 1 30 20)"/>',
    "turned about": f'{BOX} transform="rotate(30 50 50)"/>',
    "inherited": f'<g fill="red" stroke="blue" stroke-width="4">{DISC}/><circle cx="70" cy="80" r="9" fill="lime"/></g>',
    "current colour": f'<g color="teal">{DISC} fill="currentColor"/></g>',
    "inherit": f'<g fill="teal"><g fill="red">{DISC} fill="inherit"/></g></g>',
    "opacity": f'{BOX} opacity=".5"/>',
    "opacity of a group": f'<g opacity=".5">{BOX}/></g>',
    "opacity of a fill": f'{BOX} fill-opacity=".3"/>',
    "rgba": f'{DISC} fill="rgba(255,0,0,.5)"/>',
    "hsl": f'{DISC} fill="hsl(120,100%,25%)"/>',
    "three digits": f'{DISC} fill="#1a8"/>',
    "use": '<defs><rect id="r" width="20" height="20"/></defs><use href="#r" x="10" y="10" fill="red"/>'
    '<use xlink:href="#r" x="50" y="50" transform="rotate(9)" fill="blue"/>',
    "use of what comes later": '<use href="#r" x="10" fill="red"/><defs><rect id="r" width="20" height="20"/></defs>',
    "symbol": f'<symbol id="s" viewBox="0 0 100 50">{BOX}/>{DISC}/></symbol><use href="#s" x="20" width="40" '
    'height="40"/>',
    "nothing of a symbol": f'<symbol id="s">{BOX}/></symbol>{DISC}/>',
    "view": f'<svg x="20" y="30" width="50" height="50" viewBox="0 0 10 10">{ROUND}',
    "view cuts": '<svg x="20" y="30" width="30" height="30"><circle cx="30" cy="15" r="15" fill="red"/></svg>',
    "view stretched": f'<svg x="9" width="50" height="20" viewBox="0 0 10 10" preserveAspectRatio="none">{ROUND}',
    "view filled": f'<svg x="9" width="50" height="20" viewBox="0 0 10 10" preserveAspectRatio="xMinYMax slice">{ROUND}',
    "view at the right": f'<svg width="50" height="20" viewBox="0 0 10 10" preserveAspectRatio="xMaxYMid meet">{ROUND}',
    "clip": f'<clipPath id="c">{DISC}/></clipPath>{BOX} clip-path="url(#c)"/>',
    "clip of a group": f'<clipPath id="c">{DISC}/></clipPath><g clip-path="url(#c)">{BOX}/>{LINE} stroke-width="9"/></g>',
    "clip of two": f'<clipPath id="c">{DISC}/><rect x="50" y="50" width="20" height="20"/></clipPath>'
    f'{ALL} clip-path="url(#c)"/>',
    "clip rule": '<clipPath id="c"><path clip-rule="evenodd" d="M10 10h60v60h-60z M30 30h20v20h-20z"/></clipPath>'
    f'{ALL} clip-path="url(#c)"/>',
    "moved clip": '<clipPath id="c" transform="translate(20 20)"><circle cx="20" cy="20" r="20" '
    f'transform="scale(1 .5)"/></clipPath>{ALL} clip-path="url(#c)"/>',
    "clip by the box": '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath>'
    f'{BOX} clip-path="url(#c)"/>',
    "clip on a clip": f'<clipPath id="a"><rect width="50" height="100"/></clipPath><clipPath id="c" '
    f'clip-path="url(#a)">{DISC}/></clipPath>{ALL} clip-path="url(#c)"/>',
    "clip in a clip": f'<clipPath id="a"><rect width="50" height="100"/></clipPath><clipPath id="c">{DISC}/></clipPath>'
    f'<g clip-path="url(#a)">{ALL} clip-path="url(#c)"/></g>',
    "clipped stroke": f'<clipPath id="c">{DISC}/></clipPath><path d="M10 30 L80 60" stroke="red" stroke-width="10" '
    'clip-path="url(#c)"/>',
    "clip by use": f'<defs>{DISC} id="k"/></defs><clipPath id="c"><use href="#k" x="10"/></clipPath>'
    f'{ALL} clip-path="url(#c)"/>',
    "clip by what is not painted": '<clipPath id="c"><path fill="none" opacity="0" stroke="red" stroke-width="30" '
    f'd="M20 20h40v40h-40z"/></clipPath>{ALL} clip-path="url(#c)"/>',
    "seen through over colours": '<rect width="50" height="100" fill="orange"/><rect x="50" width="20" height="100" '
    f'fill="navy"/><circle cx="50" cy="50" r="40" fill="white" opacity=".5"/>{DISC} fill-opacity=".3"/>',
    "a group seen through hides its own": '<rect width="50" height="100" fill="orange"/><g opacity=".5"><rect '
    'x="10" y="20" width="70" height="60"/><rect x="20" y="30" width="40" height="30" fill="yellow"/></g>',
    "shades one over another": '<rect width="100" height="60" fill="#888"/>'
    + "".join(f'<circle cx="{x}" cy="50" r="25" opacity=".4" fill="red"/>' for x in (30, 50, 70)),
    "empty clip": f'<clipPath id="c"/>{BOX} clip-path="url(#c)"/>{DISC}/>',
    "mask": f'<mask id="m"><rect width="100" height="100" fill="white"/>{DISC} fill="black"/></mask>'
    f'{BOX} mask="url(#m)"/>',
    "mask of a group": f'<mask id="m" {PAGE}>{DISC} fill="white"/></mask><g mask="url(#m)">{BOX}/>{LINE} '
    'stroke-width="9"/></g>',
    "mask of a stroke": f'<mask id="m" {PAGE}><path d="M10 10L90 90" stroke="white" stroke-width="20"/></mask>'
    f'{ALL} mask="url(#m)"/>',
    "mask by the box": '<mask id="m" maskContentUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".4" '
    f'fill="white"/></mask>{BOX} mask="url(#m)"/>',
    "box of a mask": '<mask id="m" x="0.2" y="0.2" width=".5" height=".5"><rect width="100" height="100" '
    f'fill="white"/></mask>{BOX} mask="url(#m)"/>',
    "marker at the end": f'<marker id="m" {SMALL} orient="auto">{ARROW}<path d="M20 70 L50 30 L80 60" fill="none" '
    'stroke="black" stroke-width="4" marker-end="url(#m)"/>',
    "markers": f'<marker id="m" {SMALL}>{ARROW}<polyline points="20,70 50,30 80,60" fill="none" stroke="black" '
    'stroke-width="3" marker-start="url(#m)" marker-mid="url(#m)" marker-end="url(#m)"/>',
    "marker in mm": f'<marker id="m" {SMALL.replace("4", "12")} markerUnits="userSpaceOnUse" orient="45">{ARROW}'
    '<line x1="20" y1="50" x2="80" y2="50" stroke="black" stroke-width="3" marker-end="url(#m)"/>',
    "moved marker": f'<marker id="m" {SMALL} orient="auto">{ARROW}<g transform="rotate(20) scale(.7)"><path '
    'd="M50 20 L80 60" stroke="black" stroke-width="4" marker-end="url(#m)"/></g>',
    "marker the other way": f'<marker id="m" {SMALL} orient="auto-start-reverse">{ARROW}<path d="M20 50 H80" '
    'stroke="black" stroke-width="4" marker-start="url(#m)" marker-end="url(#m)"/>',
    "nothing of a marker": f'<marker id="m">{BOX}/></marker><pattern id="p">{BOX}/></pattern>{DISC}/>',
    "descendants": f"<style>g.a rect {{ fill: teal }} g > circle {{ fill: blue }}</style><g class='a'>{DISC}/>{BOX}/></g>",
    "what weighs more": f'<style>*{{fill:green}} rect{{fill:red!important}}</style>{DISC}/>{BOX} style="fill:blue"/>',
    "stroke first": f'{DISC} fill="red" stroke="black" stroke-width="12" paint-order="stroke"/>',
    "hidden": f'<g visibility="hidden">{BOX}/>{DISC} visibility="visible"/></g><g display="none">{ALL}/></g>',
    "switch": f'<switch>{ALL} systemLanguage="fr"/>{DISC}/>{BOX}/></switch>',
    "link": f'<a href="x">{BOX}/></a>',
    "units": '<rect x="1cm" y="10mm" width="0.4in" height="50pt" fill="red"/>',
    "em": '<g font-size="10"><rect x="1em" y="1em" width="4em" height="2em" fill="red"/></g>',
    "half out": '<circle cx="0" cy="50" r="30" fill="red"/><circle cx="-50" cy="50" r="30"/>',
    "one over the other": f"{BOX}/>{DISC}/>",
    "flat gradient": f'<linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="red"/>'
    f'</linearGradient><radialGradient id="h" href="#g"/>{DISC} fill="url(#h)"/>',
    "nothing there": f'{DISC} fill="url(#nothing) blue"/><rect width="9" height="9" fill="url(#nothing)"/>',
    "unknown": f"<foo>{BOX}/></foo>{DISC}/><defs>{ALL}/></defs>",
}
"""Drawings of 100 x 100 mm by what they show, without their head."""


def random_drawing(seed: int) -> str:
    """A drawing of two to five parts: shapes, groups, clips, masks, templates, views, symbols, markers."""
    draw = random.Random(seed)
    parts: list[str] = []
    for number in range(draw.randint(2, 5)):
        kind = draw.choice(("shape", "shape", "group", "clip", "mask", "use", "view", "symbol", "marker", "clipped"))
        parts.append(_part(draw, kind, f"n{number}"))
    return HEAD + "".join(parts) + "</svg>"


def _moved(draw: random.Random) -> str:
    kinds = (
        "",
        f"translate({draw.randint(-20, 20)} {draw.randint(-20, 20)})",
        f"rotate({draw.randint(-60, 60)} 50 50)",
        f"scale({draw.choice((0.5, 0.8, 1.2))})",
        f"matrix(1 {draw.uniform(-0.3, 0.3):.2f} {draw.uniform(-0.3, 0.3):.2f} 1 5 5)",
        f"scale({draw.choice((0.5, 1.5))} 1)",
    )
    return f' transform="{draw.choice(kinds)}"'


def _shape(draw: random.Random, more: str = "") -> str:
    x, y, wide = draw.randint(5, 60), draw.randint(5, 60), draw.randint(15, 40)
    colour, other = draw.sample(("red", "#0a7", "navy", "rgb(200,120,0)", "hsl(300,50%,40%)", "black"), 2)
    paint = draw.choice(
        (
            f'fill="{colour}"',
            f'fill="none" stroke="{colour}" stroke-width="{draw.randint(3, 9)}"',
            f'fill="{colour}" stroke="{other}" stroke-width="{draw.randint(2, 6)}"',
            f'fill="none" stroke="{colour}" stroke-width="5" stroke-dasharray="{draw.randint(4, 9)} 4"',
            f'style="fill:{colour};fill-opacity:{draw.choice((0.3, 0.6, 0.9))}"',
        )
    )
    outline = draw.choice(
        (
            f'<rect x="{x}" y="{y}" width="{wide}" height="{draw.randint(10, 30)}"',
            f'<circle cx="{x}" cy="{y}" r="{wide // 2}"',
            f'<path d="M{x} {y} q{wide} -20 {wide} {wide} t-30 10 z"',
            f'<path d="M{x} {y} c{wide} 0 0 {wide} {wide} {wide}"',
            f'<polygon points="{x},{y} {x + wide},{y} {x},{y + wide}"',
            f'<path fill-rule="evenodd" d="M{x} {y}h{wide}v{wide}h-{wide}z m5 5 h10v10h-10z"',
        )
    )
    return f"{outline} {paint}{_moved(draw)}{more}/>"


def _part(draw: random.Random, kind: str, name: str) -> str:
    disc = f'<circle cx="{draw.randint(30, 60)}" cy="50" r="{draw.randint(12, 30)}"'
    match kind:
        case "group":
            thin = draw.choice(("", ' opacity=".6"'))
            return f"<g{_moved(draw)}{thin}>{_shape(draw)}<g{_moved(draw)}>{_shape(draw)}</g></g>"
        case "clip":
            more = f' clip-path="url(#{name})"'
            return f'<clipPath id="{name}"{_moved(draw)}>{disc}/></clipPath>{_shape(draw, more)}'
        case "clipped":
            return (
                f'<clipPath id="{name}">{disc}{_moved(draw)}/></clipPath>'
                f'<g{_moved(draw)} clip-path="url(#{name})">{_shape(draw)}{_shape(draw)}</g>'
            )
        case "mask":
            hole = f'<rect width="100" height="100" fill="white"/>{disc} fill="black"{_moved(draw)}/>'
            more = f' mask="url(#{name})"'
            return f'<mask id="{name}" {PAGE}>{hole}</mask>{_shape(draw, more)}'
        case "use":
            return f'<defs><g id="{name}">{_shape(draw)}</g></defs><use href="#{name}" x="9"{_moved(draw)}/>'
        case "view":
            aspect = draw.choice(("none", "xMidYMid", "xMinYMax slice", "xMaxYMin meet"))
            place = f'x="9" y="10" width="60" height="{draw.randint(30, 60)}" viewBox="0 0 100 100"'
            return f'<svg {place} preserveAspectRatio="{aspect}">{_shape(draw)}</svg>'
        case "symbol":
            inside = f'<symbol id="{name}" viewBox="0 0 100 100">{_shape(draw)}{_shape(draw)}</symbol>'
            return f'{inside}<use href="#{name}" x="20" y="20" width="60" height="{draw.randint(30, 60)}"/>'
        case "marker":
            way = f'<path d="M20 70 L{draw.randint(40, 60)} 30 L80 60" fill="none" stroke="black" stroke-width="4"'
            turn = draw.choice(("auto", "30"))
            return f'<marker id="{name}" {SMALL} orient="{turn}">{ARROW}{way} marker-mid="url(#{name})"/>'
    return _shape(draw)
