"""Bringing a file of rows into a visit, as the screen does it."""

import time
from uuid import uuid4


class Coming:
    """A file under way, by whatever asks the server: ``ask(verb, path, body)`` gives status and answer."""

    def __init__(self, ask, visit, content, name="probes.csv"):
        self.ask, self.at = ask, f"/api/visits/{visit}/files"
        _, self.view = ask("post", self.at, {"name": name, "bytes": len(content)})
        self.at += f"/{self.view['id']}"
        step = max(1, min(len(content) // 2, self.view["part"]))
        for begin in range(0, len(content), step):
            ask("put", f"{self.at}/part?at={begin}", content[begin : begin + step])
        self.wait("read", "refused")

    def wait(self, *states):
        for _ in range(600):
            _, self.view = self.ask("get", self.at, None)
            if self.view["state"] in states:
                return self.view
            time.sleep(0.02)
        raise AssertionError(f"it stays {self.view['state']}")

    def say(self, columns=(), **said):
        status, answer = self.ask("put", f"{self.at}/meaning", {"columns": list(columns), **said})
        if status == 200:
            self.view = answer
        return status, answer

    def known(self):
        """What is known of its columns by now, as it is said back."""
        columns = enumerate(self.view["found"]["columns"])
        return [{"column": at, "place": one["place"]} for at, one in columns if one["known"]]

    def enter(self, mode="heating", **more):
        status, answer = self.ask(
            "post", f"{self.at}/entry", {"entry_key": uuid4().hex, "mode": mode, **more}
        )
        if status == 200:
            self.wait("done", "read", "refused")
            answer = self.view
        return status, answer


def by_client(client):
    """To ask through a test client of Flask's."""

    def ask(verb, path, body):
        if isinstance(body, bytes):
            given = {"data": body, "content_type": "application/octet-stream"}
        else:
            given = {} if body is None else {"json": body}
        answer = getattr(client, verb)(path, **given)
        return answer.status_code, answer.json

    return ask


def brought(client, visit, text, started_at="2026-01-15T07:00:00-05:00", **more):
    """The id of the recording that a file's text became, whose headings say all of it."""
    coming = Coming(by_client(client), visit, text.encode())
    coming.say(coming.known(), clock_unit="s", started_at=started_at)
    status, view = coming.enter(**more)
    assert (status, view["state"]) == (200, "done"), view
    return view["recording"]
