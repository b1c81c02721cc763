"""Commands on stitch files: sewn by the stand-in machine, handed to one, made objects again."""

from collections import Counter
from pathlib import Path

import click

from jontel.cli.group import FILE, cli, ground_named, spare, write
from jontel.data import find_hoop
from jontel.design.errors import CannotDo
from jontel.design.words import many


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
@click.option("--as-stitches", is_flag=True, help="Keep every needle point where it is, and make no objects of them.")
def recover(stitchfile: Path, outs: tuple[Path, ...], ground: str, hoop: str, as_stitches: bool) -> None:
    """Make objects of a stitch file again: covers, what lies beneath them, runs."""
    from jontel.files.formats import format_of, recover_design, stitches_as_design

    for out in outs:
        format_of(out)
    spare(outs, stitchfile)
    read = stitches_as_design if as_stitches else recover_design
    made = read(stitchfile, ground_named(ground), find_hoop(hoop))
    write(made, outs)
    kinds = Counter(type(item.cover).__name__.lower() for item in made.objects)
    parts = ", ".join(many(count, kind) for kind, count in kinds.most_common())
    click.echo(f"{many(len(made.objects), 'object')} in {many(len(made.brief.threads), 'thread')}: {parts}")
