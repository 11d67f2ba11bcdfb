"""Servers and scripts for tests, forked from a process that has loaded Icepick: to load it takes longer than many a test."""

from __future__ import annotations

import multiprocessing
import os
import runpy
import sys
from pathlib import Path

_forks = multiprocessing.get_context("forkserver")
_forks.set_forkserver_preload(
    [
        "icepick.cli",
        "icepick.cli.serving",
        "icepick.web",
        "icepick.demo",
        "playwright.sync_api",
        "solved_before",
        "waitress",
    ]
)


def icepick(
    command: list[str], environment: dict[str, str], output: Path
) -> multiprocessing.process.BaseProcess:
    """Start `icepick` in a process of its own.

    Parameters
    ----------
    command : list of str
        What stands behind `icepick`.
    environment : dict of str to str
        All of the process's.
    output : Path
        Gets what it prints.
    """
    process = _forks.Process(target=_run, args=(command, environment, str(output)), daemon=True)
    process.start()
    return process


def script(
    file: Path, arguments: list[str], environment: dict[str, str], output: Path
) -> multiprocessing.process.BaseProcess:
    """Start a Python file in a process of its own, as at a terminal.

    Parameters
    ----------
    file : Path
    arguments : list of str
        What stands behind its name.
    environment : dict of str to str
        All of the process's.
    output : Path
        Gets what it prints, and what went wrong.
    """
    process = _forks.Process(target=_run_script, args=(str(file), arguments, environment, str(output)))
    process.start()
    return process


def _run(command: list[str], environment: dict[str, str], output: str) -> None:
    _begin(environment, output, 1)
    sys.argv = ["icepick", *command]
    from icepick.cli import main

    main()


def _run_script(file: str, arguments: list[str], environment: dict[str, str], output: str) -> None:
    _begin(environment, output, 1, 2)
    sys.argv = [file, *arguments]
    sys.path.insert(0, os.path.dirname(file))
    multiprocessing.set_start_method("fork", force=True)
    runpy.run_path(file, run_name="__main__")


def _begin(environment: dict[str, str], output: str, *streams: int) -> None:
    from solved_before import keep_solved

    keep_solved()
    os.environ.clear()
    os.environ.update(environment)
    with open(output, "wb") as file:
        for stream in streams:
            os.dup2(file.fileno(), stream)
