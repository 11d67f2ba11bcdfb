"""Who asks, and what that role may do. Where the server is reached from this machine alone and there is no account, everybody
may do everything; else nobody may do anything before signing in."""

from __future__ import annotations

from dataclasses import dataclass
from hmac import compare_digest
from secrets import choice
from threading import Lock
from time import monotonic
from typing import Literal

from flask import Flask, Response, current_app, request

from icepick.store.accounts import Role, any_account
from icepick.store.database import acting
from icepick.store.sessions import ENDS, Session, session
from icepick.web.connection import connection
from icepick.web.problems import problem

Right = Literal["read", "enter", "units", "limits", "close", "people", "records", "shop", "practice"]
"""What an endpoint needs: to read; to practice at the bench; to enter calls, readings and notes; to describe the
book's units; to change limits; to close visits and open them again; to say who works here and look into the audit; to take
all records out and bring others in; to say what the shop is called on its reports."""

RIGHTS: dict[Role, frozenset[Right]] = {
    "lead": frozenset({"read", "enter", "units", "limits", "close", "people", "records", "shop", "practice"}),
    "technician": frozenset({"read", "enter", "practice"}),
    "apprentice": frozenset({"read", "practice"}),
    "office": frozenset({"read"}),
}
EVERYTHING = RIGHTS["lead"]
MAY: dict[Role, str] = {
    "lead": "everything: also units, limits, closing and reopening visits, accounts, the audit, records out and in",
    "technician": "calls, readings, marks, notes and recordings; practices at the bench",
    "apprentice": "reads everything, works out what the Handbook answers, and practices at the bench",
    "office": "reads everything, reports included",
}
"""What each role may do, in words."""

_IN_WORDS: dict[Right, str] = {
    "read": "read the records",
    "enter": "enter calls, readings and notes",
    "units": "change the book of units",
    "limits": "change the practice limits",
    "close": "close a visit or open it again",
    "people": "say who works here or look into the audit",
    "records": "take all records out or bring others in",
    "shop": "say what stands on the reports",
    "practice": "practice at the bench",
}

CSRF_HEADER = "X-CSRF-Token"
CODE_LASTS_S = 3600
_WHO = "icepick.who"
_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
_MOST_TRIES = 20


class FirstCode:
    """The one-time code that is printed at the terminal, with which whoever can read that makes the first account."""

    def __init__(self) -> None:
        self.code = "-".join("".join(choice(_LETTERS) for _ in range(4)) for _ in range(4))
        self._made, self._tries, self._one_at_a_time = monotonic(), 0, Lock()

    def fits(self, typed: str) -> bool:
        """Whether this is the code, and it is still good: for an hour and some tries."""
        with self._one_at_a_time:
            self._tries += 1
            good = monotonic() - self._made < CODE_LASTS_S and self._tries <= _MOST_TRIES
        # Without its dashes, and however it was typed.
        plain = "".join(typed.split()).replace("-", "").upper()
        return good and compare_digest(plain.encode(), self.code.replace("-", "").encode())


@dataclass(frozen=True, slots=True)
class Door:
    """``locked``: nobody comes in without an account, whether there is one yet or not."""

    locked: bool
    code: FirstCode


def install(app: Flask, *, locked: bool) -> None:
    """Put a door before the application."""
    app.extensions["icepick.door"] = Door(locked, FirstCode())

    @app.teardown_request
    def leave(_error: BaseException | None) -> None:
        acting.set(None)


def door() -> Door:
    """The door of this application."""
    found: Door = current_app.extensions["icepick.door"]
    return found


def first_code() -> str | None:
    """The code with which the first account is made; None where none is to be made."""
    return door().code.code if door().locked and not any_account(connection()) else None


def is_open() -> bool:
    """Whether nobody needs to sign in."""
    return not door().locked and not any_account(connection())


def who() -> Session | None:
    """Who asks, by the cookie; None where nobody has signed in."""
    if _WHO not in request.environ:
        token = request.cookies.get(_cookie())
        request.environ[_WHO] = session(connection(), token) if token else None
    found: Session | None = request.environ[_WHO]
    return found


def admit(needs: Right) -> None:
    """Let a request go on whose account may do what it needs; what it writes is that account's.

    Raises
    ------
    ProblemError
        401: nobody has signed in. 403: the role does not allow it, or the token that comes with a change is missing.
    """
    known = who()
    if known is None:
        if is_open():
            return
        raise problem(401, "Sign in first; what was typed is kept.")
    if request.method not in ("GET", "HEAD"):
        refuse_forged(known)
    if needs not in RIGHTS[known.account.role]:
        raise problem(403, f"Signed in as {known.account.role}, you can't {_IN_WORDS[needs]}.")
    acting.set(known.account.id)


def refuse_forged(known: Session) -> None:
    """Refuse a change that does not bring the token along which only a page of ours can have read."""
    if not compare_digest(request.headers.get(CSRF_HEADER, "").encode(), known.csrf.encode()):
        raise problem(403, "This page was opened before somebody signed in; load it again.")


def give_cookie(response: Response, token: str) -> None:
    """Have the browser hold a session; no script of any page can read it, and no other site's page sends it."""
    response.set_cookie(
        _cookie(),
        token,
        max_age=int(ENDS.total_seconds()),
        secure=request.is_secure,
        httponly=True,
        samesite="Strict",
        path="/",
    )


def take_cookie(response: Response) -> None:
    """Have the browser let go of a session."""
    response.delete_cookie(_cookie(), secure=request.is_secure, httponly=True, samesite="Strict", path="/")


def _cookie() -> str:
    """Over TLS a name that browsers take from this very host alone."""
    return "__Host-icepick" if request.is_secure else "icepick"
