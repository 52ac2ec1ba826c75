"""What the commands share: plain errors, and files that are not too large."""

import sys
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import ParamSpec, TypeVar

import click

from tobbix.core.base.errors import InputError, NeedsConfirmation, TobbixError
from tobbix.formats.limits import MB, MOST_BYTES

P = ParamSpec("P")
R = TypeVar("R")


def plain_errors(command: Callable[P, R]) -> Callable[P, R]:
    """Say what was refused in plain words, a line for each fault, and leave with 1."""

    @wraps(command)
    def wrapped(*args: P.args, **kwargs: P.kwargs) -> R:
        try:
            return command(*args, **kwargs)
        except InputError as error:
            for fault in error.faults:
                click.echo(str(fault), err=True)
        except NeedsConfirmation as error:
            for question in error.questions:
                click.echo(str(question), err=True)
            click.echo(f"Nothing was changed. To confirm, add --{error.flag.replace('_', '-')}.", err=True)
        except TobbixError as error:
            click.echo(str(error), err=True)
        sys.exit(1)

    return wrapped


def read_file(path: Path) -> bytes:
    """The bytes of a file. Raises InputError if it is too large for a product sheet."""
    if path.stat().st_size > MOST_BYTES:
        raise InputError.at("file", f"{path} is larger than {MOST_BYTES // MB} MB")
    return path.read_bytes()


SHEET = click.Path(exists=True, dir_okay=False, path_type=Path)
