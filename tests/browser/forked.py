"""Servers for tests, forked from a process that has loaded Icepick: to load it takes longer than many a test."""

from __future__ import annotations

import multiprocessing
import os
import sys
from pathlib import Path

_forks = multiprocessing.get_context("forkserver")
_forks.set_forkserver_preload(
    ["icepick.cli", "icepick.cli.serving", "icepick.web", "icepick.demo", "waitress", "solved_before"]
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


def _run(command: list[str], environment: dict[str, str], output: str) -> None:
    os.environ.clear()
    os.environ.update(environment)
    with open(output, "wb") as file:
        os.dup2(file.fileno(), 1)
    sys.argv = ["icepick", *command]
    from icepick.cli import main
    from solved_before import keep_solved

    keep_solved()
    main()
