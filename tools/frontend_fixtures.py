"""Write build/fixtures.json for the front end's tests: the catalogue, the Handbook and every demo visit, as the API answers
them."""

import json
import tempfile
from contextlib import closing
from pathlib import Path

from icepick.demo import load_demo
from icepick.store.database import connect
from icepick.web import create_app

OUT = Path(__file__).parents[1] / "build" / "fixtures.json"

if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as folder:
        database = Path(folder) / "icepick.db"
        client = create_app(database).test_client()
        with closing(connect(database)) as connection:
            load_demo(connection)
        pages = range(1, client.get("/api/visits").json["pages"] + 1)
        lines = [line for page in pages for line in client.get(f"/api/visits?page={page}").json["visits"]]
        OUT.write_text(
            json.dumps(
                {
                    "catalogue": client.get("/api/catalogue").json,
                    "handbook": client.get("/api/handbook").json,
                    "visits": [client.get(f"/api/visits/{line['id']}").json for line in lines],
                }
            )
        )
