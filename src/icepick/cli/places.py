"""Where records are kept when nothing is said of it."""

from __future__ import annotations

from pathlib import Path

import click
import platformdirs


def data_file(name: str) -> Path:
    """A file in the user's data directory."""
    return Path(platformdirs.user_data_dir("icepick")) / name


FILE = click.Path(dir_okay=False, path_type=Path)
RECORDS = click.option(
    "--db", type=FILE, envvar="ICEPICK_DB", help="The database file; otherwise one in your data directory."
)
