"""Who works here, and who did what: for a lead."""

from __future__ import annotations

from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field

from icepick.core.document.base import Document, InvalidDocumentError, Problem
from icepick.store import audit
from icepick.store.accounts import (
    Account,
    AccountError,
    Role,
    accounts,
    change_passphrase,
    change_role,
    end_account,
    find_account,
    make_account,
    take_back_in,
)
from icepick.store.database import writing
from icepick.web.connection import connection
from icepick.web.contract import LARGEST_ID, Api
from icepick.web.door import MAY
from icepick.web.problems import problem
from icepick.web.room import room
from icepick.web.session import Name, Passphrase, new_digest
from icepick.web.told import told

api = Api("people")


class AccountView(BaseModel):
    id: int
    name: str
    role: Role
    made_at: AwareDatetime
    ended_at: AwareDatetime | None


class RoleView(BaseModel):
    """``may`` says in words what the role may do."""

    role: Role
    may: str


class AccountList(BaseModel):
    accounts: list[AccountView]
    roles: list[RoleView]


class NewAccount(Document):
    """The passphrase is for the first time; who gets it changes it."""

    name: Name
    role: Role
    passphrase: Passphrase


class AccountChange(Document):
    """What is left out stays. One that ended is let in again with a new passphrase."""

    role: Role | None = None
    passphrase: Passphrase | None = None
    ended: bool | None = None


class AuditAsked(Document):
    """Which lines are wanted: of a visit, by an account, before a line."""

    visit: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None
    account: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None
    before: Annotated[int, Field(ge=1, le=LARGEST_ID)] | None = None


class AuditLine(BaseModel):
    """``by`` is null where nobody had signed in: before there were accounts, or at the terminal. ``elsewhere``: they brought
    it in; it was written in another book, by and when as that says."""

    id: int
    at: AwareDatetime
    by: str | None
    did: str
    visit_id: int | None
    site: str | None
    unit: str | None
    elsewhere: Elsewhere | None


class Elsewhere(BaseModel):
    """Where a record came from another book: who wrote it there, and when; null where that does not say."""

    by: str | None
    at: AwareDatetime | None


class AuditPage(BaseModel):
    """The newest of the lines asked for first; ``more`` is what to ask for ``before`` to see those that follow."""

    lines: list[AuditLine]
    more: int | None


@api.endpoint("get", "/accounts", gives=AccountList, needs="people")
def list_accounts() -> AccountList:
    """Everybody who works or worked here."""
    return AccountList(
        accounts=[_view(one) for one in accounts(connection())],
        roles=[RoleView(role=role, may=may) for role, may in MAY.items()],
    )


@api.endpoint("post", "/accounts", accepts=NewAccount, gives=AccountView, needs="people", status=201)
def add_account(body: NewAccount) -> AccountView:
    """Make an account."""
    with room():
        kept = new_digest(body.passphrase, body.name, "/passphrase")
    try:
        with writing(connection()) as db:
            return _view(make_account(db, body.name, body.role, kept))
    except AccountError as error:
        raise InvalidDocumentError([Problem("/name", str(error))]) from None


@api.endpoint("patch", "/accounts/<int:account_id>", accepts=AccountChange, gives=AccountView, needs="people")
def change_account(account_id: int, body: AccountChange) -> AccountView:
    """Change the role or the passphrase of an account, end it, or let it in again."""
    known = _known(account_id)
    kept = None
    if body.passphrase is not None:
        with room():
            kept = new_digest(body.passphrase, known.name, "/passphrase")
    try:
        with writing(connection()) as db:
            if body.role is not None:
                change_role(db, _known(account_id), body.role)
            if body.ended:
                end_account(db, _known(account_id))
            elif body.ended is False and known.ended_at is not None:
                if kept is None:
                    raise problem(422, "Who is let in again gets a new passphrase.")
                take_back_in(db, known, kept)
            elif kept is not None:
                change_passphrase(db, known, kept)
            return _view(_known(account_id))
    except AccountError as error:
        raise problem(409, str(error)) from None


@api.endpoint("get", "/audit", gives=AuditPage, asks=AuditAsked, needs="people")
def get_audit(asked: AuditAsked) -> AuditPage:
    """Who wrote what, newest first."""
    found = audit.lines(
        connection(), visit=asked.visit, account=asked.account, before=asked.before, most=_A_PAGE + 1
    )
    lines = [
        AuditLine.model_validate(
            {
                "id": line.id,
                "at": line.at,
                "by": line.by,
                "did": told(line.what, line.about),
                "visit_id": line.visit_id,
                "site": line.site,
                "unit": line.unit,
                "elsewhere": {"by": line.written_by, "at": line.written_at} if line.brought_in else None,
            }
        )
        for line in found[:_A_PAGE]
    ]
    return AuditPage(lines=lines, more=lines[-1].id if len(found) > _A_PAGE else None)


_A_PAGE = 100


def _known(account_id: int) -> Account:
    found = find_account(connection(), account_id)
    if found is None:
        raise problem(404, f"There is no account {account_id}.")
    return found


def _view(account: Account) -> AccountView:
    return AccountView.model_validate(
        {
            "id": account.id,
            "name": account.name,
            "role": account.role,
            "made_at": account.made_at,
            "ended_at": account.ended_at,
        }
    )
