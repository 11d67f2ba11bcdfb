"""What the shop says of itself on its reports."""

from __future__ import annotations

import sqlite3

from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.shop import Shop
from icepick.store.database import now


def shop(connection: sqlite3.Connection) -> Shop:
    """What is in force; nothing, where nobody has said anything or this Icepick can't use it."""
    row = connection.execute("SELECT document FROM shop_changes ORDER BY id DESC LIMIT 1").fetchone()
    try:
        return parse(Shop, row["document"]) if row else Shop()
    except InvalidDocumentError:
        return Shop()


def name_shop(connection: sqlite3.Connection, said: Shop) -> None:
    """Say it anew; the same once more adds nothing."""
    if said != shop(connection):
        connection.execute(
            "INSERT INTO shop_changes (document, recorded_at) VALUES (?, ?)", (said.model_dump_json(), now())
        )
