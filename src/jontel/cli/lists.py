"""Commands that list what there is."""

import click

from jontel.cli.group import cli, own_folder
from jontel.data import hoops, thread_chart


@cli.command("grounds")
def list_grounds() -> None:
    """List the grounds, the user's own last."""
    from jontel.files.owngrounds import all_grounds, read_own

    for ground in all_grounds(own_folder()):
        click.echo(f"{ground.name}: {ground.fabric}, backing {ground.backing}, topping {ground.topping}")
    for trouble in read_own(own_folder())[1]:
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
