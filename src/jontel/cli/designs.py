"""Commands that open, make and write designs."""

import json
import os
from pathlib import Path

import click
from msgspec.structs import replace

from jontel.cli.group import FILE, cli, ground_named, part_of, spare, write
from jontel.data import find_hoop, thread_chart
from jontel.design import CannotRead, CannotWrite, Run, Satin
from jontel.design.words import many


@cli.command("open", hidden=True)
@click.argument("files", nargs=-1, type=FILE)
def open_files(files: tuple[Path, ...]) -> None:
    """Open the application."""
    _need_display()
    from jontel.app.start import start

    start(list(files))


def _need_display() -> None:
    if not has_display():
        raise CannotWrite(
            "There is no display to open a window on; use a command such as “jontel demo --out DIR”, "
            "or set QT_QPA_PLATFORM."
        )


def has_display() -> bool:
    """Whether a window can be opened here."""
    return any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"))


@cli.command()
@click.option("--out", type=FILE, help="Do the whole job without a window and write here.")
def demo(out: Path | None) -> None:
    """Open the demo, or with --out run its whole job."""
    if out is None and has_display():
        from jontel.app.start import start

        start([], demo=True)
    from jontel.demo import run_job

    if out is None:
        out = Path("demo-output")
        click.echo(f"There is no display here, so the demo job runs without a window and writes to {out}/.")
    for name, sums, report in run_job(out):
        click.echo(
            f"{name}: {sums.stitches} stitches, {sums.width:.1f} x {sums.height:.1f} mm, {sums.trims} trims, "
            f"{sums.changes} changes, {sums.seconds / 60:.0f} min, {sum(sums.metres):.0f} m of thread; "
            f"the stand-in machine sewed {report.stitches} stitches"
        )
    for path in sorted(out.iterdir()):
        click.echo(f"  {path}  {path.stat().st_size // 1024 + 1} kB")


@cli.command()
@click.argument("art", type=FILE)
@click.option("-o", "outs", multiple=True, required=True, type=FILE)
@click.option("--ground", default="Woven twill", show_default=True)
@click.option("--hoop", default="130 x 180", show_default=True)
@click.option("--width", type=float, help="How wide it is sewn, mm.")
@click.option("--height", type=float, help="How high it is sewn, mm.")
@click.option("--colours", type=click.IntRange(1, 12), default=12, help="Keep at most so many of a picture.")
@click.option("--least", type=click.FloatRange(0, 20), default=0.8, show_default=True, help="Leave out less, mm.")
@click.option("--as-drawn", is_flag=True, help="In the order and at the edges of the drawing.")
def digitize(
    art: Path,
    outs: tuple[Path, ...],
    ground: str,
    hoop: str,
    width: float | None,
    height: float | None,
    colours: int,
    least: float,
    as_drawn: bool,
) -> None:
    """Turn ART (SVG, PDF, DXF or a picture) into a design, a stitch file, a sheet: by the ending of each -o."""
    if width is not None and height is not None:
        raise click.UsageError("give --width or --height, not both: the other follows")
    from jontel.artwork.digitize import design_from
    from jontel.artwork.drawing import Size
    from jontel.files.atomic import read_whole
    from jontel.files.formats import format_of
    from jontel.sewing.estimate import totals
    from jontel.sewing.plan import plan
    from jontel.sewing.resize import to_size
    from jontel.shaping.digitizing import ready
    from jontel.shaping.wishes import Digitizing

    for out in outs:
        format_of(out)
    spare(outs, art)
    made = design_from(
        read_whole(art), art.name, ground_named(ground), find_hoop(hoop), thread_chart(), Size(width, height), colours
    )
    if not as_drawn:
        made = ready(made, {item.id for item in made.objects}, Digitizing(least=least))
    if width is not None or height is not None:
        made = to_size(made, 0 if width is not None else 1, width or height or 0.0)
    write(made, outs)
    for note in made.artwork[0].notes:
        click.echo(note)
    sums = totals(plan(made))
    click.echo(
        f"{many(len(made.objects), 'object')}, {sums.stitches} stitches, {sums.width:.1f} x {sums.height:.1f} mm"
    )


STYLES = {"satin": Satin(), "outline": Run(), "line": Run(along="centre line")}


@cli.command()
@click.argument("text")
@click.option("-o", "outs", multiple=True, required=True, type=FILE)
@click.option("--font", help="The name of a font, or a font file.")
@click.option("--height", type=click.FloatRange(1, 500), default=12.0, show_default=True, help="Of the capitals, mm.")
@click.option("--ground", default="Woven twill", show_default=True)
@click.option("--hoop", default="130 x 180", show_default=True)
@click.option("--style", type=click.Choice(list(STYLES)), default="satin", show_default=True)
def letter(
    text: str, outs: tuple[Path, ...], font: str | None, height: float, ground: str, hoop: str, style: str
) -> None:
    """Sew TEXT, which may hold line breaks, as letters in the middle of the hoop."""
    from jontel.design import Brief, Design
    from jontel.design.edits import add_objects, drop_unused_threads
    from jontel.design.lettering import MOST_SIGNS, Lettering, least_stroke_on
    from jontel.files.formats import format_of
    from jontel.lettering.fonts import font_of_file, open_font, shipped_fonts
    from jontel.lettering.setting import centred, set_in, words_object
    from jontel.sewing.estimate import totals
    from jontel.sewing.plan import plan

    for out in outs:
        format_of(out)
    text = text.replace("\\n", "\n")
    if not text.strip() or len(text) > MOST_SIGNS:
        raise CannotRead(f"There are no words to sew; give from one to {MOST_SIGNS:,} signs.")
    as_file = font is not None and (Path(font).suffix.lower() in (".ttf", ".otf", ".ttc", ".otc"))
    opened = font_of_file(Path(font or "")) if as_file else open_font(font or shipped_fonts()[0].name)
    on = ground_named(ground)
    words = centred(Lettering(text, opened.name, height, least_stroke=least_stroke_on(on)), opened)
    chart = thread_chart()
    item = replace(words_object(words, chart[0].code, opened), cover=STYLES[style])
    name = " ".join(text.split())[:40]
    empty = Design(name=name, brief=Brief(on, find_hoop(hoop), chart))
    made = drop_unused_threads(add_objects(empty, [item]))
    sewn = plan(made)
    if sewn.failures:
        raise CannotRead(sewn.failures[0].sentence)
    write(made, outs)
    missing = set_in(words, opened).missing
    if missing:
        click.echo(f"“{opened.name}” has no {', '.join(missing)}: a gap stands for it.")
    sums = totals(sewn)
    click.echo(f"{sums.stitches} stitches, {sums.width:.1f} x {sums.height:.1f} mm, {many(sums.trims, 'trim')}")


@cli.command()
@click.argument("list", type=FILE)
@click.argument("design", type=FILE)
@click.option("-o", "out", required=True, type=FILE, help="The folder that everything is written into.")
@click.option("--field", default="", help="The lettering that is filled; else what holds {column}, or the only one.")
@click.option(
    "--format", "endings", multiple=True, default=(".ngc",), show_default=True, help="By ending; may repeat."
)
@click.option("--longest", type=click.FloatRange(0, 2000), default=0.0, help="No name is longer than this, mm.")
@click.option("--least", type=click.FloatRange(0, 500), default=0.0, help="Nor are its letters lower than this, mm.")
@click.option("--together", is_flag=True, help="Also lay several names into each hoop where they fit.")
@click.option(
    "--jobs", type=click.IntRange(1, 256), default=os.cpu_count() or 1, help="So many processes; all cores."
)
@click.option("--scheduler", default="", help="The address of a Dask scheduler, tcp://HOST:PORT, instead of --jobs.")
def names(
    list: Path,
    design: Path,
    out: Path,
    field: str,
    endings: tuple[str, ...],
    longest: float,
    least: float,
    together: bool,
    jobs: int,
    scheduler: str,
) -> None:
    """Sew DESIGN.jontel for every row of LIST.csv: a file each, a report, a sheet; goes on where it was stopped."""
    from jontel.files.formats import format_of, open_design
    from jontel.names.lot import REPORT, SHEET, Wishes, sew_lot
    from jontel.names.table import read_table

    endings = tuple(dict.fromkeys("." + one.lower().lstrip(".") for one in endings))
    for ending in endings:
        format_of(Path(f"name{ending}"))
    made, table = open_design(design), read_table(list)
    wishes = Wishes(field, endings, longest, least, together, jobs, scheduler)
    outcomes = sew_lot(made, table, out, wishes)
    for one in outcomes:
        if one.status != "sewn":
            click.echo(f"row {one.row}, “{one.name}” {one.status}: {one.told}")
    good = sum(one.status == "sewn" for one in outcomes)
    click.echo(f"{good} of {many(len(outcomes), 'name')} in {out}/, with {REPORT} and {SHEET}")


@cli.command("export")
@click.argument("design", type=FILE)
@click.option("-o", "outs", multiple=True, required=True, type=FILE)
@click.option("--outlines", is_flag=True, help="Write .svg as the outlines drawn instead of the stitches.")
@click.option("--only", "names", multiple=True, help="Only the objects of this name; may repeat.")
@click.option("--from-stitch", type=click.IntRange(1), help="From this stitch on, counted from 1.")
@click.option("--known", default="0,0", show_default=True, help="The place X,Y that a part begins at, mm.")
def export_design(
    design: Path, outs: tuple[Path, ...], outlines: bool, names: tuple[str, ...], from_stitch: int | None, known: str
) -> None:
    """Write DESIGN.jontel in other formats, by the ending of each -o; or a part of it, in register."""
    from jontel.files import svgout
    from jontel.files.atomic import write_whole
    from jontel.files.formats import format_of, open_design
    from jontel.sewing.plan import plan

    for out in outs:
        format_of(out)
    spare(outs, design)
    made = open_design(design)
    plain = [out for out in outs if not (outlines and out.suffix.lower() == ".svg")]
    write(made, tuple(plain), part_of(made, names, from_stitch, known))
    for out in set(outs) - set(plain):
        write_whole(out, svgout.outlines(plan(made), made))
        click.echo(str(out))


@cli.command("proof")
@click.argument("design", type=FILE)
@click.option("--json", "as_json", is_flag=True, help="Print one JSON document and nothing else.")
def proof_design(design: Path, as_json: bool) -> None:
    """Check DESIGN.jontel before it is sewn."""
    from jontel.files.formats import open_design
    from jontel.sewing.estimate import totals
    from jontel.sewing.plan import plan
    from jontel.sewing.proof import proof
    from jontel.sewing.proof.accepting import told_apart

    made = open_design(design)
    sewn = plan(made)
    found, sums = proof(made, sewn), totals(sewn)
    findings, accepted = told_apart(found, made)
    if as_json:
        document = {
            "design": made.name,
            "stitches": sums.stitches,
            "trims": sums.trims,
            "changes": sums.changes,
            "seconds": round(sums.seconds, 1),
            "width_mm": round(sums.width, 2),
            "height_mm": round(sums.height, 2),
            "findings": [
                {
                    "kind": f.kind,
                    "severity": f.severity,
                    "sentence": f.sentence,
                    "objects": f.objects,
                    "place_mm": f.place,
                    "fix": f.fixes[0].label if f.fixes else None,
                    "accepted": f in accepted,
                }
                for f in found
            ],
        }
        click.echo(json.dumps(document, ensure_ascii=False, indent=2))
        return
    for f in findings:
        click.echo(f"{f.severity}: {f.sentence}" + (f" Fix: {f.fixes[0].label}." if f.fixes else ""))
    for f in accepted:
        click.echo(f"accepted: {f.sentence}")
    if not findings:
        click.echo("Nothing found: ready to sew.")


@cli.command("versions")
@click.argument("design", type=FILE)
def versions(design: Path) -> None:
    """Tell the states that DESIGN.jontel keeps of itself, and what changed from each to the next and to now."""
    from jontel.design.versions import differences, state_of
    from jontel.files.formats import open_design

    made = open_design(design)
    if not made.versions:
        click.echo("No state is kept.")
    states = [one.state for one in made.versions] + [state_of(made)]
    for number, one in enumerate(made.versions):
        click.echo(f"{one.name}, {one.when}" + (f": {one.note}" if one.note else ""))
        following = made.versions[number + 1].name if number + 1 < len(made.versions) else "now"
        for words in differences(one.state, states[number + 1]) or ("nothing that is sewn",):
            click.echo(f"  to {following}: {words}")
