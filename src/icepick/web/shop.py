"""The shop as it stands on its reports."""

from __future__ import annotations

from icepick.core.document.shop import Shop
from icepick.store.database import writing
from icepick.store.shop import name_shop, shop
from icepick.web.connection import connection
from icepick.web.contract import Api

api = Api("shop")


@api.endpoint("get", "/shop", gives=Shop)
def get_shop() -> Shop:
    """What stands on every report."""
    return shop(connection())


@api.endpoint("put", "/shop", accepts=Shop, gives=Shop, needs="shop")
def put_shop(body: Shop) -> Shop:
    """Say it anew."""
    with writing(connection()) as db:
        name_shop(db, body)
    return shop(connection())
