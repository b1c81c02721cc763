"""The command line: the same job without a window."""

import difflib
import json
import os
import sys
from collections import Counter
from pathlib import Path
from typing import Any

import click
import platformdirs
from msgspec.structs import replace

from jontel.data import find_hoop, hoops, thread_chart
from jontel.design import CannotRead, CannotWrite, JontelError, Run, Satin
from jontel.design.errors import CannotDo
from jontel.design.words import many


class _Commands(click.Group):
    """``jontel FILE ...`` opens the application; a known first word is a command."""

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        if not args or (args[0] not in self.commands and not args[0].startswith("-")):
            if args and not _looks_like_a_file(args[0]):
                near = difflib.get_close_matches(args[0], self.commands, 1, 0.5)
                meant = f"; did you mean “jontel {near[0]}”?" if near else "; see “jontel --help”."
                raise click.UsageError(f"There is no command or file “{args[0]}”{meant}")
            args = ["open", *args]
        return super().parse_args(ctx, args)


def _looks_like_a_file(word: str) -> bool:
    return Path(word).exists() or Path(word).suffix != "" or "/" in word


def _own_folder() -> Path:
    """Where the user's own grounds lie."""
    return Path(platformdirs.user_config_dir("jontel")) / "grounds"


def _ground(name: str) -> Any:
    """The ground of this name, the user's own first. Raises ``CannotRead``."""
    from jontel.files.owngrounds import find_ground

    return find_ground(name, _own_folder())


FILE = click.Path(path_type=Path, readable=False)
"""A file name; whether it can be read is found out by reading it, and said in a sentence."""


def _spare(outs: tuple[Path, ...], source: Path) -> None:
    """Refuse to write over what is read. Raises ``CannotWrite``."""
    for out in outs:
        if out.exists() and source.exists() and out.samefile(source):
            raise CannotWrite(f"{out} is what is read; give the output another name.")


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="jontel")
def cli() -> None:
    """Turns artwork into embroidery that is right on the first sew-out.

    jontel [FILE ...] opens the application.
    """


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
    from jontel.shaping.digitizing import Digitizing, ready

    for out in outs:
        format_of(out)
    _spare(outs, art)
    made = design_from(
        read_whole(art), art.name, _ground(ground), find_hoop(hoop), thread_chart(), Size(width, height), colours
    )
    if not as_drawn:
        made = ready(made, {item.id for item in made.objects}, Digitizing(least=least))
    if width is not None or height is not None:
        made = to_size(made, 0 if width is not None else 1, width or height or 0.0)
    _write(made, outs)
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
    on = _ground(ground)
    words = centred(Lettering(text, opened.name, height, least_stroke=least_stroke_on(on)), opened)
    chart = thread_chart()
    item = replace(words_object(words, chart[0].code, opened), cover=STYLES[style])
    name = " ".join(text.split())[:40]
    empty = Design(name=name, brief=Brief(on, find_hoop(hoop), chart))
    made = drop_unused_threads(add_objects(empty, [item]))
    sewn = plan(made)
    if sewn.failures:
        raise CannotRead(sewn.failures[0].sentence)
    _write(made, outs)
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
    _spare(outs, design)
    made = open_design(design)
    plain = [out for out in outs if not (outlines and out.suffix.lower() == ".svg")]
    _write(made, tuple(plain), _part(made, names, from_stitch, known))
    for out in set(outs) - set(plain):
        write_whole(out, svgout.outlines(plan(made), made))
        click.echo(str(out))


def _part(made: Any, names: tuple[str, ...], from_stitch: int | None, known: str) -> Any:
    """What of a design is asked for; ``None`` is all of it."""
    from jontel.files.formats import Part

    if not names and from_stitch is None:
        return None
    if names and from_stitch is not None:
        raise click.UsageError("give --only or --from-stitch, not both")
    try:
        x, y = (float(one) for one in known.split(","))
    except ValueError as error:
        raise click.UsageError(f"--known {known} is no place; give it as X,Y in mm, for example 0,-40") from error
    missing = [name for name in names if all(item.name != name for item in made.objects)]
    if missing:
        raise CannotRead(f"There is no object “{missing[0]}” in the design; names are as in the sewing order.")
    ids = frozenset(item.id for item in made.objects if item.name in names)
    return Part(ids, from_stitch or 0, (x, y))


def _write(made: Any, outs: tuple[Path, ...], part: Any = None) -> None:
    from jontel.files.formats import export

    for out in outs:
        export(made, out, part)
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

    made = open_design(design)
    sewn = plan(made)
    findings, sums = proof(made, sewn), totals(sewn)
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
                }
                for f in findings
            ],
        }
        click.echo(json.dumps(document, ensure_ascii=False, indent=2))
        return
    for f in findings:
        click.echo(f"{f.severity}: {f.sentence}" + (f" Fix: {f.fixes[0].label}." if f.fixes else ""))
    if not findings:
        click.echo("Nothing found: ready to sew.")


@cli.command("forecast")
@click.argument("design", type=FILE)
@click.option("--json", "as_json", is_flag=True, help="Print one JSON document and nothing else.")
@click.option("-o", "out", type=FILE, help="Also write a picture of it, .png or .svg.")
@click.option("--exaggerate", type=click.FloatRange(0, 50), default=1.0, help="Show movements so much larger.")
def forecast_design(design: Path, as_json: bool, out: Path | None, exaggerate: float) -> None:
    """Say where DESIGN.jontel will lie when it is sewn: its size, what parts, what is not round."""
    from jontel.files.atomic import write_whole
    from jontel.files.formats import format_of, open_design
    from jontel.forecast.findings import findings, roundness
    from jontel.forecast.forecast import forecast
    from jontel.forecast.report import report
    from jontel.forecast.showing import shown
    from jontel.sewing.plan import plan

    made = open_design(design)
    if out is not None:
        if format_of(out).ending not in (".png", ".svg"):
            raise CannotWrite(f"{out.name} is no picture; a forecast is written as .png or .svg.")
        _spare((out,), design)
    sewn = plan(made)
    if not sewn.pieces:
        raise CannotRead(f"{design.name} has no stitches yet; add an object first.")
    seen = forecast(sewn)
    told, round_ones = findings(made, seen), roundness(made, seen)
    if out is not None:
        write_whole(out, format_of(out).write(shown(seen, exaggerate), made))
    if as_json:
        click.echo(json.dumps(report(made, seen, told, round_ones), ensure_ascii=False, indent=2))
        return
    drawn = report(made, seen, told, round_ones)
    click.echo(f"{drawn['width_mm']:.1f} x {drawn['height_mm']:.1f} mm as it will lie")
    for finding in told:
        click.echo(f"{finding.severity}: {finding.sentence}")
    if not told:
        click.echo("Nothing opens, nothing is pulled out of round.")


@cli.command("solve")
@click.argument("design", type=FILE)
@click.option("-o", "outs", multiple=True, required=True, type=FILE)
@click.option("--only", "names", multiple=True, help="Only the objects of this name; may repeat.")
def solve_design(design: Path, outs: tuple[Path, ...], names: tuple[str, ...]) -> None:
    """Work the edges of DESIGN.jontel out from the forecast, so that the cloth ends up as drawn."""
    from jontel.files.formats import format_of, open_design
    from jontel.forecast.solving import missed, solved

    for out in outs:
        format_of(out)
    _spare(outs, design)
    made = open_design(design)
    part = _part(made, names, None, "0,0")
    before = missed(made)
    better = solved(made, part.ids if part is not None else ())
    after = missed(better)
    _write(better, outs)
    for item in made.objects:
        if item.id in after and better.objects[made.place_of(item.id)].solved is not None:
            (one, all_one), (other, all_other) = before[item.id], after[item.id]
            click.echo(
                f"{item.name}: 95 of 100 places of its edge within {other:.2f} mm, all within {all_other:.2f} "
                f"(before {one:.2f}, {all_one:.2f})"
            )


@cli.command("swatch")
@click.option("--ground", default="Woven twill", show_default=True)
@click.option("-o", "outs", multiple=True, required=True, type=FILE)
@click.option("--form", type=FILE, help="Also write a list of what to measure, to be filled in (CSV).")
def make_swatch(ground: str, outs: tuple[Path, ...], form: Path | None) -> None:
    """Write a swatch to sew on your own cloth, for “jontel calibrate”."""
    from jontel.files.atomic import write_whole
    from jontel.files.formats import format_of
    from jontel.forecast.calibrating import readings_form
    from jontel.forecast.swatch import swatch

    for out in outs:
        format_of(out)
    _write(swatch(_ground(ground)), outs)
    if form is not None:
        write_whole(form, readings_form(_ground(ground)))
        click.echo(str(form))


@cli.command()
@click.argument("readings", type=FILE)
@click.option("--name", required=True, help="What the ground is to be called.")
@click.option("--ground", default="Woven twill", show_default=True, help="The ground that the swatch was sewn as.")
@click.option("-o", "out", type=FILE, help="Also write what was measured on a picture (CSV).")
def calibrate(readings: Path, name: str, ground: str, out: Path | None) -> None:
    """Work out how your cloth gives from READINGS.csv, or from a scan or photo of the sewn swatch, and keep it."""
    from jontel.files.atomic import read_whole, write_whole
    from jontel.files.owngrounds import keep_ground
    from jontel.forecast.calibrating import fitted, own_ground, read_readings, readings_csv
    from jontel.forecast.scanning import measured_on

    like = _ground(ground)
    data = read_whole(readings)
    if readings.suffix.lower() == ".csv":
        measured = read_readings(data, readings.name)
    else:
        measured = measured_on(data, readings.name)
        if out is not None:
            write_whole(out, readings_csv(measured))
    found = fitted(like, measured, on_picture=readings.suffix.lower() != ".csv")
    made = own_ground(like, name, found)
    path = keep_ground(made, _own_folder())
    click.echo(f"{made.name}: from {found.used} readings, off by {found.off:.2f} mm on average; kept in {path}")
    cloth = found.cloth
    click.echo(
        f"  draws in by {cloth.pull:.3f} ± {found.pull:.3f} along stitches, widens by {cloth.push:.3f} ± "
        f"{found.push:.3f} across them"
    )
    firm = cloth.across / cloth.along
    click.echo(f"  {firm:.2f} ± {found.ratio:.2f} times as firm across the grain as along it")
    click.echo(f"  compensated by pull {made.edges.pull:.2f} and push {made.edges.push:.2f} mm from now on")


@cli.command("sew")
@click.argument("stitchfile", type=FILE)
@click.option("--hoop", help="Refuse what leaves this hoop.")
@click.option("--to", "address", metavar="HOST:PORT", help="Sew on a machine that listens there (“jontel machine”).")
@click.option("--secret", default="", help="The secret of that machine.")
def sew_file(stitchfile: Path, hoop: str | None, address: str | None, secret: str) -> None:
    """Run the stand-in machine on a stitch file."""
    from jontel.files.formats import read_movements
    from jontel.machine.head import sew

    if address is not None:
        _sew_there(stitchfile, address, secret)
        return
    report = sew(read_movements(stitchfile), find_hoop(hoop) if hoop else None)
    click.echo(
        f"Sewed {report.stitches} stitches, {report.trims} trims, {report.changes} thread changes in "
        f"{int(report.seconds) // 60} min {int(report.seconds) % 60} s."
    )
    for stop in report.stops:
        click.echo(f"Stopped: {stop or 'waited for the operator'}")


def _sew_there(stitchfile: Path, address: str, secret: str) -> None:
    """Send a stitch file to a machine and follow it; where it waits for somebody, it is told to go on."""
    from jontel.files.atomic import read_whole
    from jontel.machine.driver import Driver

    host, _, port = address.rpartition(":")
    if not port.isdigit() or not 0 < int(port) < 65_536:
        raise click.UsageError("--to takes HOST:PORT, as in 127.0.0.1:7420")
    with Driver(host or "127.0.0.1", int(port), secret) as driver:
        state = driver.send_job(stitchfile.name, read_whole(stitchfile))
        driver.confirm({str(number): thread for number, thread in enumerate(state["threads"], 1)})
        state = driver.start()
        while state["state"] != "done":
            for message in driver.follow():
                if message["says"] in ("stop", "thread break", "bobbin out", "thread"):
                    click.echo(f"stitch {message['stitch']}: {message['says']}: {message['note']}")
                if message["says"] == "state":
                    state = message
            if state["state"] != "done":
                state = driver.start()
        for line in driver.log():
            click.echo(line)


@cli.command()
@click.option("--port", type=click.IntRange(0, 65_535), default=7420, show_default=True, help="0 takes a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--secret", default="", help="What who drives it has to know; wanted beyond this computer.")
@click.option(
    "--factor", type=click.FloatRange(0.01, 1e7), default=1.0, show_default=True, help="How fast time goes."
)
@click.option("--faults", is_flag=True, help="Thread breaks and bobbins run out now and then.")
@click.option("--seed", type=int, default=0, help="Where they do.")
@click.option("--hoop", help="Refuse what leaves this hoop.")
def machine(port: int, host: str, secret: str, factor: float, faults: bool, seed: int, hoop: str | None) -> None:
    """Run the stand-in machine as a process that takes jobs over a socket, until it is stopped."""
    import asyncio

    from jontel.files.formats import movements_in
    from jontel.machine.server import Machine, Wishes

    if host not in ("127.0.0.1", "localhost", "::1") and not secret:
        raise click.UsageError("a machine that others can reach wants a --secret")
    wishes = Wishes(find_hoop(hoop) if hoop else None, secret=secret, factor=factor, faults=faults, seed=seed)
    stand_in = Machine(movements_in, wishes)
    try:
        asyncio.run(stand_in.serve(host, port, lambda bound: click.echo(f"The machine listens at {host}:{bound}.")))
    except KeyboardInterrupt:
        click.echo("The machine is off.")
    except OSError as error:
        raise CannotDo(f"{host}:{port} is taken or no address of this computer; choose another port.") from error


@cli.command()
@click.argument("stitchfile", type=FILE)
@click.option("-o", "outs", multiple=True, required=True, type=FILE)
@click.option("--ground", default="Woven twill", show_default=True)
@click.option("--hoop", default="130 x 180", show_default=True)
def recover(stitchfile: Path, outs: tuple[Path, ...], ground: str, hoop: str) -> None:
    """Make objects of a stitch file again: covers, what lies beneath them, runs."""
    from jontel.files.formats import format_of, recover_design

    for out in outs:
        format_of(out)
    _spare(outs, stitchfile)
    made = recover_design(stitchfile, _ground(ground), find_hoop(hoop))
    _write(made, outs)
    kinds = Counter(type(item.cover).__name__.lower() for item in made.objects)
    parts = ", ".join(many(count, kind) for kind, count in kinds.most_common())
    click.echo(f"{many(len(made.objects), 'object')} in {many(len(made.brief.threads), 'thread')}: {parts}")


@cli.command("grounds")
def list_grounds() -> None:
    """List the grounds, the user's own last."""
    from jontel.files.owngrounds import all_grounds, read_own

    for ground in all_grounds(_own_folder()):
        click.echo(f"{ground.name}: {ground.fabric}, backing {ground.backing}, topping {ground.topping}")
    for trouble in read_own(_own_folder())[1]:
        click.echo(trouble, err=True)


@cli.command("threads")
def list_threads() -> None:
    """List the threads of the shipped chart."""
    for thread in thread_chart():
        click.echo(f"{thread.code},{thread.name},{thread.colour},{thread.weight}")


@cli.command("hoops")
def list_hoops() -> None:
    """List the hoops."""
    for hoop in hoops():
        click.echo(f"{hoop.name}: {hoop.width:g} x {hoop.height:g} mm")


@cli.command("formats")
def list_formats() -> None:
    """List the formats that can be written."""
    from jontel.files.formats import formats

    for one in formats().values():
        click.echo(f"{one.ending}  {one.title}")


def main() -> None:
    """Run the command line; an error is one sentence, never a traceback."""
    try:
        cli(standalone_mode=True)
    except JontelError as error:
        click.echo(str(error), err=True)
        sys.exit(1)
    except KeyboardInterrupt:
        click.echo("Stopped.", err=True)
        sys.exit(1)
    except MemoryError:
        click.echo("There is not enough memory for a design of this size; simplify it.", err=True)
        sys.exit(1)


if __name__ == "__main__":
    main()
