"""The command line: commands on documents, the server, and the records as a whole. Nothing is worked out here."""

from __future__ import annotations

import io
import sys

import click

from icepick import __version__
from icepick.cli.accounts import account
from icepick.cli.documents import examine_command, machine_command, openapi, recording_command, schema
from icepick.cli.exchange import export_command, import_command
from icepick.cli.fleet import fleet_command
from icepick.cli.records import backup, restore, verify
from icepick.cli.serving import demo, serve, summarize


@click.group()
@click.version_option(__version__, prog_name="icepick")
def main() -> None:
    """Diagnose the refrigerant circuit of a heat pump."""
    for stream in (sys.stdout, sys.stderr):
        # A terminal that can't show a degree sign shows something else in its place.
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")


for command in (
    examine_command,
    schema,
    recording_command,
    machine_command,
    openapi,
    serve,
    account,
    demo,
    summarize,
    backup,
    verify,
    restore,
    export_command,
    import_command,
    fleet_command,
):
    main.add_command(command)
