"""People who may sign in."""

from contextlib import closing

from icepick.store.accounts import digest, make_account
from icepick.store.database import connect, prepare, writing

PASSPHRASE = "herring lamp quarry oak"


def make_people(path, *roles):
    """An account of each role, named after it; all of the same passphrase."""
    prepare(path)
    kept = digest(PASSPHRASE, "")
    with closing(connect(path)) as db, writing(db):
        for role in roles:
            make_account(db, role, role, kept)
