"""Commands on documents: a visit, a unit or a recording goes in, what the core makes of it comes out."""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence
from itertools import count
from pathlib import Path
from typing import get_args

import click

from icepick.cli.many import LINES, examined_lines, sources
from icepick.core.document.codes import Mode
from icepick.core.document.examination import examination_schema
from icepick.core.document.recording import Recording
from icepick.core.document.visit import Visit, parse_unit, parse_visit, visit_schema
from icepick.core.examine import examine
from icepick.core.machine.sheet import sheet
from icepick.core.properties.quantities import UnitSystem
from icepick.core.recorded_file.csv_text import read_csv, write_csv

_UNITS = click.Choice(["field", "metric"])


@click.command("examine")
@click.argument("files", nargs=-1, required=True, metavar="FILE...")
@click.option(
    "--out", type=click.Path(file_okay=False, path_type=Path), help="Write one examination per file here."
)
@click.option(
    "--earlier",
    multiple=True,
    metavar="FILE",
    help="A visit to the same unit before this one; give it again for each, oldest first. Those at which nothing was wrong "
    "teach what the unit is like.",
)
@click.option(
    "--lines",
    is_flag=True,
    help="Write a line of JSON for each visit, in their order: from where, and its examination or the error. Standard input "
    "is then JSON Lines too.",
)
@click.option(
    "--jobs", type=click.IntRange(1, 256), default=1, show_default=True, help="Processes to examine them on."
)
@click.option("--units", type=_UNITS, default="field", show_default=True)
def examine_command(
    files: tuple[str, ...],
    out: Path | None,
    earlier: tuple[str, ...],
    lines: bool,
    jobs: int,
    units: UnitSystem,
) -> None:
    """Examine visit documents; '-' reads from standard input. A folder gives all its documents and files of JSON Lines."""
    before = [_visit_in(name) for name in earlier]
    if out is not None and (lines or jobs > 1):
        raise click.UsageError("a line for each visit is written to standard output: leave --out away")
    several = any(name.endswith(LINES) or Path(name).is_dir() for name in files)
    if out is None and (lines or jobs > 1 or several):
        sys.exit(0 if _say_lines(files, lines, jobs, units, before) else 2)
    if out is None:
        if len(files) > 1:
            raise click.UsageError("several files need --out DIR or --lines")
        found = _examined(files[0], units, before)
        if found is None:
            sys.exit(2)
        _print(found)
        return
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise click.UsageError(f"{out} can't be made a folder: {error.strerror}") from None
    written = set[Path]()
    done = [_examine_into(out, name, units, before, written) for name in files]
    sys.exit(0 if all(done) else 2)


def _say_lines(
    files: tuple[str, ...], lines: bool, jobs: int, units: UnitSystem, before: Sequence[Visit]
) -> bool:
    """A line for each visit; whether all of them could be examined."""
    every = True
    for line, good in examined_lines(sources(files, lines=lines), jobs, units, before):
        click.echo(line.encode())
        every = every and good
    return every


def _visit_in(name: str) -> Visit:
    """An earlier visit; without it the examination would not be what was asked for."""
    try:
        return parse_visit(_read(name))
    except (OSError, ValueError) as error:
        _refuse(name, error)
        sys.exit(2)


def _examine_into(
    out: Path, name: str, units: UnitSystem, earlier: Sequence[Visit], written: set[Path]
) -> bool:
    """Write the examination of one file into a folder; whether that went well."""
    target = out / ("stdin.json" if name == "-" else Path(name).name)
    try:
        if target in written:
            raise OSError(0, f"another file of this name was already written to {target}")
        if name != "-" and target.exists() and target.samefile(name):
            raise OSError(0, "its examination would overwrite it; choose another folder")
        found = _examined(name, units, earlier)
        if found is None:
            return False
        target.write_text(found + "\n", "utf-8")
    except (OSError, ValueError) as error:
        _refuse(name, error)
        return False
    written.add(target)
    return True


def _examined(name: str, units: UnitSystem, earlier: Sequence[Visit]) -> str | None:
    """The examination of one file as JSON; None, and a word on standard error, where there can be none."""
    try:
        found = examine(parse_visit(_read(name)), units=units, earlier=earlier)
        return found.model_dump_json(by_alias=True, indent=2)
    except Exception as error:  # Whatever is wrong with one document, the next has its turn.
        _refuse(name, error)
        return None


def _read(name: str) -> bytes:
    if name != "-":
        return Path(name).read_bytes()
    if sys.stdin is None:
        raise OSError(0, "it is closed")
    return sys.stdin.buffer.read()


def _refuse(name: str, error: Exception) -> None:
    reason = (error.strerror or str(error)) if isinstance(error, OSError) else str(error) or repr(error)
    click.echo(f"icepick: {'standard input' if name == '-' else name}: {reason}", err=True)


def _print(text: str) -> None:
    """JSON is UTF-8, whatever the terminal would like better."""
    click.echo(text.encode())


@click.command()
@click.argument("document", type=click.Choice(["visit", "examination"]))
def schema(document: str) -> None:
    """Print the JSON Schema (draft 2020-12) of a document."""
    made = visit_schema() if document == "visit" else examination_schema()
    _print(json.dumps(made, indent=2, ensure_ascii=False))


@click.command("recording")
@click.argument("file", metavar="VISIT")
@click.argument("name", metavar="ID", required=False)
@click.option(
    "--add", metavar="FILE", help="Add this CSV file and print the visit with it; '-' reads standard input."
)
@click.option("--mode", type=click.Choice(get_args(Mode)), help="The commanded mode at its start.")
@click.option(
    "--started-at", metavar="TIME", help="ISO 8601 with offset; needed where the first column is seconds."
)
@click.option("--minutes-running", type=float, help="How long the unit had run in that mode by then.")
@click.option("--id", "given", metavar="ID", help="The new recording's id; otherwise the next free number.")
def recording_command(
    file: str,
    name: str | None,
    add: str | None,
    mode: str | None,
    started_at: str | None,
    minutes_running: float | None,
    given: str | None,
) -> None:
    """Print recording ID of a visit as CSV, or the visit with a CSV file added to its recordings."""
    if (name is None) == (add is None):
        raise click.UsageError("give the ID of a recording to print, or --add a file")
    if add is not None and mode is None:
        raise click.UsageError("--add needs --mode: what was called for when the recording starts")
    source = file
    try:
        visit = parse_visit(_read(file))
        if add is None:
            click.echo(write_csv(_recording(visit, name)), nl=False)
            return
        source = add
        added = read_csv(
            _read(add).decode(),
            name=given or _free_id(visit),
            mode=str(mode),
            started_at=started_at,
            minutes_running=minutes_running,
        )
        _print(parse_visit(_with(visit, added)).model_dump_json(indent=2, exclude_none=True))
    except (OSError, ValueError) as error:
        _refuse(source, error)
        sys.exit(2)


def _recording(visit: Visit, name: str | None) -> Recording:
    for one in visit.recordings:
        if one.id == name:
            return one
    there = ", ".join(one.id for one in visit.recordings) or "none"
    raise ValueError(f"there is no recording {name!r}; it holds {there}")


def _free_id(visit: Visit) -> str:
    taken = {run.id for run in visit.runs} | {one.id for one in visit.recordings}
    return next(name for number in count(1) if (name := f"recording-{number}") not in taken)


def _with(visit: Visit, added: Recording) -> str:
    return visit.model_copy(update={"recordings": [*visit.recordings, added]}).model_dump_json()


@click.command("machine")
@click.argument("file", metavar="FILE")
@click.option("--units", type=_UNITS, default="field", show_default=True)
def machine_command(file: str, units: UnitSystem) -> None:
    """Size the machine of a unit and print it; FILE holds a unit or a visit, '-' reads it from standard input."""
    try:
        found = sheet(parse_unit(_read(file)), units)
    except (OSError, ValueError) as error:
        _refuse(file, error)
        sys.exit(2)
    if not found.sized:
        click.echo(f"icepick: {file}: {found.field}: {found.why}", err=True)
        sys.exit(2)
    _print(found.model_dump_json(indent=2))


@click.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI description of the web API."""
    from icepick.web import openapi as describe

    _print(json.dumps(describe(), indent=2, ensure_ascii=False))
