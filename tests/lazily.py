"""Libraries that take seconds to load, loaded by the first test that asks them: every worker collects every file."""

import importlib
from functools import cached_property
from typing import Any


class Lazily:
    """A module, or what stands in one under a name; used as if it were there."""

    def __init__(self, module: str, name: str | None = None) -> None:
        self._where = module, name

    @cached_property
    def _it(self) -> Any:
        module, name = self._where
        loaded = importlib.import_module(module)
        return loaded if name is None else getattr(loaded, name)

    def __getattr__(self, name: str) -> Any:
        # Whoever collects tests looks at everything in a file.
        if name.startswith("_") or "pytest" in name:
            raise AttributeError(name)
        return getattr(self._it, name)

    def __call__(self, *asked: Any, **named: Any) -> Any:
        return self._it(*asked, **named)
