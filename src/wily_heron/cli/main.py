"""The headless commands: everything the bench does, on files, without a browser or a database."""

import sys

import typer

from ..core.errors import HeronError
from .apart import apart
from .body import body
from .clear import clear
from .convert import convert
from .cut import cut
from .drape import drape
from .dress import dress
from .finish import finish
from .fit import fit
from .motion import motion
from .receive import receive
from .trial import trial

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)
for command in (body, motion, receive, convert, apart, fit, dress, clear, trial, drape, finish, cut):
    app.command()(command)


def main() -> None:
    """Run a command; what the user can mend is one line on stderr and exit 2."""
    try:
        app()
    except HeronError as error:
        sys.stderr.write(f"heron: {error}\n")
        sys.exit(2)
    except OSError as error:
        sys.stderr.write(f"heron: {error.filename or 'the disk'}: {error.strerror}. Check the path and the free space.\n")
        sys.exit(2)


if __name__ == "__main__":
    main()
