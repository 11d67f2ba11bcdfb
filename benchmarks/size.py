"""How large a bench is: as it says, or next to nothing (ICEPICK_SMOKE set), to see that it still runs."""

import os
from typing import TypeVar

T = TypeVar("T")
SMOKE = bool(os.environ.get("ICEPICK_SMOKE"))


def sized(usual: T, smoke: T) -> T:
    """As large as usual, or so small that it takes seconds."""
    return smoke if SMOKE else usual
