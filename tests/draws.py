"""How much of a large draw is run: a share of it with every `make test`, all of it with `make bench`."""

import os

ALL = bool(os.environ.get("ICEPICK_EVERY_DRAW"))


def few(some, every):
    """A number of examples: some of them, or as many as there are to be."""
    return every if ALL else some
