"""What stands in a file."""

from icepick.store.visits import find_visit


def all_visits(db):
    """Every visit that can be read, newest first."""
    rows = db.execute("SELECT id FROM standing_visits ORDER BY opened_at DESC, id DESC").fetchall()
    return [found for row in rows if (found := find_visit(db, row["id"])) is not None]
