"""What all commands share: the group that they belong to, files, grounds, writing."""

import difflib
from pathlib import Path
from typing import Any

import click
import platformdirs

from jontel.design import CannotRead, CannotWrite


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


def own_folder() -> Path:
    """Where the user's own grounds lie."""
    return Path(platformdirs.user_config_dir("jontel")) / "grounds"


def ground_named(name: str) -> Any:
    """The ground of this name, the user's own first. Raises ``CannotRead``."""
    from jontel.files.owngrounds import find_ground

    return find_ground(name, own_folder())


FILE = click.Path(path_type=Path, readable=False)
"""A file name; whether it can be read is found out by reading it, and said in a sentence."""


def spare(outs: tuple[Path, ...], source: Path) -> None:
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
    from jontel.design.store import use_shelf
    from jontel.files.shelf import FolderShelf

    use_shelf(FolderShelf(Path(platformdirs.user_cache_dir("jontel")) / "columns"))


def write(made: Any, outs: tuple[Path, ...], part: Any = None) -> None:
    """Write a design, or a part of it, in the format of each ending, and say so. Raises ``CannotWrite``."""
    from jontel.files.formats import export

    for out in outs:
        export(made, out, part)
        click.echo(str(out))


def part_of(made: Any, names: tuple[str, ...], from_stitch: int | None, known: str) -> Any:
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
