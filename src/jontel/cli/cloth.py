"""Commands that foresee the cloth, solve edges for it and measure one's own."""

import json
from pathlib import Path

import click

from jontel.cli.group import FILE, cli, ground_named, own_folder, part_of, spare, write
from jontel.design import CannotRead, CannotWrite


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
        spare((out,), design)
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
    spare(outs, design)
    made = open_design(design)
    part = part_of(made, names, None, "0,0")
    before = missed(made)
    better = solved(made, part.ids if part is not None else ())
    after = missed(better)
    write(better, outs)
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
    write(swatch(ground_named(ground)), outs)
    if form is not None:
        write_whole(form, readings_form(ground_named(ground)))
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

    like = ground_named(ground)
    data = read_whole(readings)
    if readings.suffix.lower() == ".csv":
        measured = read_readings(data, readings.name)
    else:
        measured = measured_on(data, readings.name)
        if out is not None:
            write_whole(out, readings_csv(measured))
    found = fitted(like, measured, on_picture=readings.suffix.lower() != ".csv")
    made = own_ground(like, name, found)
    path = keep_ground(made, own_folder())
    click.echo(f"{made.name}: from {found.used} readings, off by {found.off:.2f} mm on average; kept in {path}")
    cloth = found.cloth
    click.echo(
        f"  draws in by {cloth.pull:.3f} ± {found.pull:.3f} along stitches, widens by {cloth.push:.3f} ± "
        f"{found.push:.3f} across them"
    )
    firm = cloth.across / cloth.along
    click.echo(f"  {firm:.2f} ± {found.ratio:.2f} times as firm across the grain as along it")
    click.echo(f"  compensated by pull {made.edges.pull:.2f} and push {made.edges.push:.2f} mm from now on")
