"""The demo's server for a bench: made anew, as at a first start; in a smoke run with the records that tests have made."""

from pathlib import Path

from size import SMOKE

from conftest import Server
from demo_book import copy_book


def demo_server(folder: Path) -> Server:
    """Not yet started; its records stand in the folder."""
    if not SMOKE:
        return Server(folder, "demo", cold=True)
    server = Server(folder, "demo", "--keep")
    records = folder / "icepick" / f"demo-127.0.0.1-{server.port}.db"
    records.parent.mkdir()
    copy_book(records)
    return server
