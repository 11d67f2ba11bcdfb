"""How much of a large draw is run: a share of it with every `make test`, all of it with `make bench`. Which share is another
with every commit, so that no case is left out for good; ICEPICK_DRAW=N asks for the N-th."""

import os
import subprocess
from functools import cache
from pathlib import Path

ALL = bool(os.environ.get("ICEPICK_EVERY_DRAW"))


def few(some, every):
    """A number of examples: some of them, or as many as there are to be."""
    return every if ALL else some


@cache
def turn():
    """A number that each commit has of its own; the same on every machine and in every worker."""
    asked = os.environ.get("ICEPICK_DRAW")
    if asked is not None:
        return int(asked)
    here = Path(__file__).parent
    told = subprocess.run(["git", "rev-parse", "HEAD"], cwd=here, capture_output=True, text=True, check=False)
    return int(told.stdout[:8] or "0", 16)


def share(cases, some):
    """So many of these cases, others with every commit; all of them with `make bench`."""
    cases = list(cases)
    if ALL or len(cases) <= some:
        return cases
    first = turn() * some % len(cases)
    return [cases[(first + n) % len(cases)] for n in range(some)]
