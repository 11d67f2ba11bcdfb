"""A line of the audit in words."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from icepick.core.document.stations import station
from icepick.core.document.visit import Observation
from icepick.core.document.wording import listing, noted
from icepick.core.document.words import (
    COMPLAINTS,
    MARKS,
    MODES,
    PHOTOS,
    QUANTITIES,
    REPAIRS,
    STAGES,
)
from icepick.core.handbook.fault_pages import title
from icepick.core.practice import limit
from icepick.core.properties.quantities import SYMBOLS, symbol

_LONGEST = 200
About = dict[str, Any]


def told(what: str, about: About) -> str:
    """What was done, in words; numbers as they were typed."""
    say = _SAID.get(what)
    # As the screens count them: *run 1*.
    about = {
        **about,
        **{name: str(about[name]).replace("-", " ") for name in ("run", "recording") if name in about},
    }
    try:
        return say(about) if say else what.replace("_", " ")
    except (KeyError, TypeError, ValueError):
        # What an older Icepick kept may name what this one does not know.
        return f"{what.replace('_', ' ')} {json.dumps(about)}"


def _visit(about: About) -> str:
    complaint = about["complaint"]
    return "started the call" + (f": {COMPLAINTS.get(complaint, complaint)}" if complaint else "")


def _run(done: str) -> Callable[[About], str]:
    def say(about: About) -> str:
        on = f" on circuit {about['circuit']}" if about.get("circuit") else ""
        return f"{done} {about['run']}{on}, {MODES[about['mode']]}"

    return say


def _run_changed(about: About) -> str:
    now = json.loads(about["said"])
    told_of = {
        "minutes running": now["minutes_running"],
        "began": now["started_at"],
        "stage": STAGES.get(now["compressor_stage"] or ""),
        "speed %": now["compressor_speed"],
        "heads calling": listing([str(one) for one in now["heads_calling"]]) or "none"
        if now.get("heads_calling") is not None
        else None,
    }
    parts = [
        f"{name} {value:g}" if isinstance(value, float) else f"{name} {value}"
        for name, value in told_of.items()
        if value is not None
    ]
    return f"{about['run']}: {', '.join(parts) or 'clock and compressor not known'}"


def _reading(about: About) -> str:
    quantity = "" if about["quantity"] == "temperature" else f" {QUANTITIES[about['quantity']]}"
    place = station(about["station"]).title
    return f"{about['run']}: {place}{quantity} {about['value']:g} {SYMBOLS[about['unit']]}".rstrip()


def _observation(about: About) -> str:
    seen = Observation.model_construct(code=about["code"], value=about["value"])
    return f"{about['run']}: {noted(seen)}"


def _note(about: About) -> str:
    text = " ".join(about["text"].split())
    cut = text if len(text) <= _LONGEST else f"{text[:_LONGEST]} …"
    return f"{about['run']}: notes “{cut}”" if cut else f"{about['run']}: notes emptied"


def _mark(about: About) -> str:
    return f"{about['recording']}: {MARKS[about['code']]}"


def _photo(about: About) -> str:
    caption = f": {about['caption']}" if about["caption"] else ""
    return f"photo of {PHOTOS[about['about']]}{caption}".replace("photo of photo", "photo")


def _taken_back(of: Callable[[About], str]) -> Callable[[About], str]:
    return lambda about: f"took back {of(about)}"


def _outcome(about: About) -> str:
    fault = about["fault"]
    was = "nobody knows what it was" if fault is None else f"it was {title(fault)}"
    return f"told the outcome: {was}; the repair: {REPAIRS[about['repair']]}"


def _unit(about: About) -> str:
    return (
        f"{'described anew' if about['anew'] else 'entered in the book'}: {about['label']}, {about['site']}"
    )


def _limit(about: About) -> str:
    entry = limit(about["name"])
    if about["value"] is None:
        return f"limit “{entry.title}” back to its default"
    return f"limit “{entry.title}” to {about['value']:g} {symbol(entry.unit, entry.kind)}".rstrip()


_SAID: dict[str, Callable[[About], str]] = {
    "visit": _visit,
    "run": _run("added"),
    "run_removed": _run("removed"),
    "run_changed": _run_changed,
    "reading": _reading,
    "reading_taken_back": _taken_back(_reading),
    "observation": _observation,
    "observation_taken_back": _taken_back(_observation),
    "note": _note,
    "recording": lambda about: f"added {about['recording']}",
    "recording_taken_back": lambda about: f"took back {about['recording']}",
    "mark": _mark,
    "mark_taken_back": _taken_back(_mark),
    "photo": _photo,
    "photo_taken_back": _taken_back(_photo),
    "closed": lambda _: "closed the visit",
    "reopened": lambda _: "opened the visit again",
    "outcome": _outcome,
    "unit": _unit,
    "limit": _limit,
    "shop": lambda about: f"on reports the shop is {about['name'] or 'not named'}",
    "brought_in": lambda about: f"brought in records from {about['said']}",
    "restored": lambda about: f"put the records of {about['said']} back",
    "signed_in": lambda _: "signed in",
    "signed_out": lambda _: "signed out",
    "locked_out": lambda about: (
        f"too many wrong passphrases for {about.get('account') or 'a name nobody has'}"
    ),
    "account_made": lambda about: f"account {about['account']} made, {about['said']}",
    "account_ended": lambda about: f"account {about['account']} ended",
    "account_resumed": lambda about: f"account {about['account']} let in again",
    "role_changed": lambda about: f"account {about['account']} is {about['said']} now",
    "passphrase_changed": lambda about: f"passphrase of {about['account']} changed",
}
