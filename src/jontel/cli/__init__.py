"""The command line: the same job without a window.

One file a subject; each registers its commands in the group when it is loaded here.
"""

import sys

import click

from jontel.cli import cloth, designs, lists, stitches
from jontel.cli.group import cli
from jontel.design import JontelError

__all__ = ["cli", "cloth", "designs", "lists", "main", "stitches"]


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
