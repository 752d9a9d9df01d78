"""What ./heron does with its first word."""

import os
import sys

from . import venv
from .place import PYTHON, LaunchError, environment

_HEADLESS = ("receive", "convert", "apart", "fit", "trial", "clear", "drape", "finish", "cut", "body", "motion")
_HELP = """Wily Heron: a fitting room for character costume artists

  ./heron start     start the application and print its URL (--help for options)
  ./heron test      run all checks and tests, or parts of them
  ./heron bench     measure speed beside a peer
  ./heron worker    one more worker on a running application
  ./heron archive PRODUCTION --out FILE   write a production to one file
  ./heron unpack FILE                     put an archived production in beside the others

without a browser or a database, on files (--help on each):
  ./heron receive FILE --out PIECE.glb         put a piece right
  ./heron fit PIECE --on BODY --out OUT.glb    receive, fit, bind, follow, pack
  ./heron trial PACK.glb                       measure every wearer in every pose
  ./heron clear PACK.glb --out OUT.glb         ease out what shows through
  ./heron drape PACK.glb --out OUT.usdc        let a piece fall as cloth
  ./heron finish PACK.glb --thick 2 --out O.glb    weld, even out, finer, thickness, sharp folds
  ./heron cut BLOCK --out OUT.glb              cut a garment to a wearer's measures and sew it
  ./heron body --shape girth=0.4 --out OUT.glb write a body
"""


def main(argv: list[str]) -> None:
    """Run one command; what the user can mend is one line on stderr and exit 2."""
    word, rest = (argv[0], argv[1:]) if argv else ("help", [])
    try:
        if word == "start":
            from .start import start

            start(rest)
        elif word == "worker":
            from .start import worker

            worker(rest)
        elif word in ("archive", "unpack"):
            from . import archive

            getattr(archive, word)(rest)
        elif word == "test":
            from .check import test

            test(rest)
        elif word == "bench":
            venv.ensure(dev=True)  # most peers are in the development lock
            venv.peers()
            os.execve(PYTHON, [str(PYTHON), "-m", "bench", *rest], environment())
        elif word in _HEADLESS:
            venv.ensure()
            os.execve(PYTHON, [str(PYTHON), "-m", "wily_heron.cli.main", word, *rest], environment())
        elif word in ("help", "-h", "--help"):
            print(_HELP)
        else:
            raise LaunchError(f"there is no command '{word}'; ./heron help lists them")
    except LaunchError as error:
        sys.stderr.write(f"heron: {error}\n")
        sys.exit(2)
    except KeyboardInterrupt:
        sys.exit(130)

