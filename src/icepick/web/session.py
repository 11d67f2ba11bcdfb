"""Signing in and out, one's own passphrase, and the first account."""

from __future__ import annotations

from typing import Annotated, Literal

from flask import Response, after_this_request, request
from pydantic import BaseModel, Field, StringConstraints

from icepick.core.document.base import Document, InvalidDocumentError, Problem
from icepick.store.accounts import (
    LONGEST,
    LONGEST_NAME,
    AccountError,
    Role,
    any_account,
    change_passphrase,
    digest,
    make_account,
)
from icepick.store.database import acting, writing
from icepick.store.sessions import LockedError, Session, WrongError, begin, confirm, end, session, sign_in
from icepick.web.connection import connection
from icepick.web.contract import Api
from icepick.web.door import (
    EVERYTHING,
    MAY,
    RIGHTS,
    Right,
    door,
    give_cookie,
    is_open,
    refuse_forged,
    take_cookie,
    who,
)
from icepick.web.problems import ProblemError, problem
from icepick.web.room import room

api = Api("session")

Passphrase = Annotated[str, Field(max_length=4 * LONGEST)]
Name = Annotated[str, StringConstraints(max_length=4 * LONGEST_NAME)]


class SessionView(BaseModel):
    """Where whoever asks stands.

    ``state``: *open*, nobody signs in here; *first*, the first account is to be made with the code from the terminal;
    *out*, signing in comes first; *in*, somebody has. ``account``, ``name`` and ``role`` are then whose. ``may`` are the
    rights, ``csrf`` is to come with every change as ``X-CSRF-Token``.
    """

    state: Literal["open", "first", "out", "in"]
    account: int | None
    name: str | None
    role: Role | None
    may: list[Right]
    may_in_words: str
    csrf: str | None


class SigningIn(Document):
    name: Name
    passphrase: Passphrase


class FirstAccount(SigningIn):
    """``code`` is the one printed at the terminal where Icepick was started."""

    code: Annotated[str, StringConstraints(max_length=100)]


class OwnPassphrase(Document):
    """``passphrase`` is the one in force, ``new`` the one that is to be."""

    passphrase: Passphrase
    new: Passphrase


@api.endpoint("get", "/session", gives=SessionView, needs="nothing")
def get_session() -> SessionView:
    """Who has signed in, and may do what."""
    known = who()
    if known is not None:
        return _of(known)
    return _nobody("open" if is_open() else "out" if any_account(connection()) else "first")


def _of(known: Session) -> SessionView:
    account = known.account
    return SessionView(
        state="in",
        account=account.id,
        name=account.name,
        role=account.role,
        may=sorted(RIGHTS[account.role]),
        may_in_words=MAY[account.role],
        csrf=known.csrf,
    )


def _nobody(state: Literal["open", "first", "out"]) -> SessionView:
    may = sorted(EVERYTHING) if state == "open" else []
    return SessionView(state=state, account=None, name=None, role=None, may=may, may_in_words="", csrf=None)


@api.endpoint("post", "/session", accepts=SigningIn, gives=SessionView, needs="nothing", status=201)
def begin_session(body: SigningIn) -> SessionView:
    """Sign in."""
    with room():
        try:
            token = sign_in(connection(), body.name, body.passphrase, _address())
        except WrongError:
            raise problem(401, "Name and passphrase don't belong together.") from None
        except LockedError as error:
            raise too_many(error) from None
    return _let_in(token)


@api.endpoint("delete", "/session", gives=SessionView, needs="nothing")
def end_session() -> SessionView:
    """Sign out."""
    known = who()
    if known is not None:
        refuse_forged(known)
        acting.set(known.account.id)
        with writing(connection()) as db:
            end(db, known)

    @after_this_request
    def forget(response: Response) -> Response:
        take_cookie(response)
        # What the browser kept of answers is nobody's from here on; what was typed and not sent yet stays.
        response.headers["Clear-Site-Data"] = '"cache"'
        return response

    return _nobody("out")


@api.endpoint("post", "/session/first", accepts=FirstAccount, gives=SessionView, needs="nothing", status=201)
def make_first(body: FirstAccount) -> SessionView:
    """Make the first account, a lead's, with the code printed at the terminal, and sign in with it."""
    if not door().locked or any_account(connection()):
        raise problem(409, "The first account is made already, or none is needed here.")
    if not door().code.fits(body.code):
        raise problem(
            403,
            "That is not the code printed at the terminal where Icepick was started, or it is too old: start "
            "Icepick again for another one.",
        )
    with room():
        kept = new_digest(body.passphrase, body.name, "/passphrase")
    with writing(connection()) as db:
        if any_account(db):
            raise problem(409, "Somebody else was quicker: the first account is made.")
        try:
            token = begin(db, make_account(db, body.name, "lead", kept).id)
        except AccountError as error:
            raise InvalidDocumentError([Problem("/name", str(error))]) from None
    return _let_in(token)


@api.endpoint("put", "/session/passphrase", accepts=OwnPassphrase, gives=SessionView, needs="read")
def change_own(body: OwnPassphrase) -> SessionView:
    """Change one's own passphrase; sessions elsewhere end."""
    known = who()
    if known is None:
        raise problem(409, "Nobody signs in here.")
    with room():
        try:
            confirm(connection(), known.account, body.passphrase, _address())
        except WrongError:
            raise InvalidDocumentError([Problem("/passphrase", "is not the one in force.")]) from None
        except LockedError as error:
            raise too_many(error) from None
        kept = new_digest(body.new, known.account.name, "/new")
    with writing(connection()) as db:
        change_passphrase(db, known.account, kept, keep=known.token)
    return _of(known)


def new_digest(passphrase: str, name: str, pointer: str) -> str:
    """The digest of a passphrase; one that is too easy is refused at its field."""
    try:
        return digest(passphrase, name)
    except AccountError as error:
        raise InvalidDocumentError([Problem(pointer, str(error))]) from None


def too_many(error: LockedError) -> ProblemError:
    """What is answered while the door is closed."""
    minutes = -(-error.seconds // 60)
    return problem(
        429,
        f"Too many wrong passphrases. Try again in {minutes} min, or ask a lead for a new passphrase.",
        error.seconds,
    )


def _address() -> str:
    return request.remote_addr or ""


def _let_in(token: str) -> SessionView:
    @after_this_request
    def hold(response: Response) -> Response:
        give_cookie(response, token)
        return response

    known = session(connection(), token)
    assert known is not None
    return _of(known)
