"""The server itself, as a process: who holds a line open and says nothing, or hangs up, takes nothing from the others."""

import contextlib
import http.client
import json
import os
import re
import signal
import socket
import ssl
import subprocess
import sys
import time
from contextlib import ExitStack, closing, contextmanager

import pytest
import trustme
from test_api import NEW_CALL

from bringing import Coming
from demo_book import copy_book
from icepick.cli.reach import Reach
from icepick.store.database import connect
from icepick.web.room import THREADS
from icepick.web.security import MAX_HEADERS
from icepick.web.tls import CertificateError, Front, context
from people import PASSPHRASE, make_people


@contextmanager
def serving(tmp_path, *options, tls=None, host="127.0.0.1"):
    """A server in a process of its own: the process, its port, and the lines it printed when it was ready."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-c", "from icepick.cli import main; main()", "serve", "--port", str(port)]
    said = tmp_path / "said.txt"
    with (
        said.open("wb") as output,
        subprocess.Popen(
            [*command, "--db", str(tmp_path / "icepick.db"), *options],
            stdout=output,
            stderr=subprocess.STDOUT,
            env={**os.environ, "PYTHONUNBUFFERED": "1"},
        ) as process,
    ):
        until = time.monotonic() + 20
        while time.monotonic() < until:
            try:
                if asked(port, "GET", "/healthz", tls=tls, host=host)[0] == 200:
                    break
            except OSError:
                time.sleep(0.05)
        yield process, port, said
        process.kill()


@pytest.fixture
def served(tmp_path):
    with serving(tmp_path) as (process, port, said):
        yield process, port, said


def asked(port, verb, path, body=None, headers=None, tls=None, host="127.0.0.1"):
    """The status and the body of an answer, and the cookie it set."""
    line = (
        http.client.HTTPSConnection("localhost", port, timeout=20, context=tls)
        if tls
        else http.client.HTTPConnection(host, port, timeout=20)
    )
    with closing(line):
        text = body if body is None or isinstance(body, bytes) else json.dumps(body)
        line.request(verb, path, text, {"Content-Type": "application/json", **(headers or {})})
        answer = line.getresponse()
        return answer.status, answer.read(), answer.getheader("Set-Cookie")


def test_half_open_and_abandoned_requests_hold_nobody_up(served):
    _, port, _ = served
    call = asked(port, "POST", "/api/visits", {"entry_key": "first call", **NEW_CALL})
    visit = json.loads(call[1])["id"]
    with ExitStack() as lines:
        for number in range(3 * THREADS):
            line = lines.enter_context(socket.create_connection(("127.0.0.1", port)))
            # A head that does not end, and a body that does not come.
            line.sendall(
                b"GET /api/visits HTTP/1.1\r\nHost: 127.0.0.1\r\n"
                if number % 2
                else b"POST /api/visits HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\n"
                b"Content-Length: 90\r\n\r\n{"
            )
        for _ in range(2 * THREADS):
            with socket.create_connection(("127.0.0.1", port)) as line:
                line.sendall(b"GET /api/visits/1/history HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
        began = time.monotonic()
        taken = {
            "run": "run-1",
            "entry_key": "a key of its own",
            "reading": {"station": "discharge_line", "quantity": "temperature", "value": 170, "unit": "degF"},
        }
        assert asked(port, "POST", f"/api/visits/{visit}/readings", taken)[0] == 201
        assert asked(port, "GET", "/api/visits")[0] == 200
        assert time.monotonic() - began < 5


def test_a_thousand_lines_of_one_address_keep_nobody_else_out(served):
    _, port, _ = served
    with ExitStack() as lines:
        for _ in range(1050):
            line = lines.enter_context(socket.socket())
            # One of its own network takes many; everything in 127/8 is this machine.
            line.bind(("127.0.0.2", 0))
            line.connect(("127.0.0.1", port))
            with contextlib.suppress(OSError):
                line.sendall(b"GET /api/visits HTTP/1.1\r\nHost: 127.0.0.1\r\n")
        began = time.monotonic()
        assert asked(port, "GET", "/api/visits")[0] == 200
        assert time.monotonic() - began < 5


def test_it_is_reached_at_the_address_it_prints(tmp_path):
    with serving(tmp_path, "--host", "::1", host="::1") as (_, port, said):
        assert f"http://[::1]:{port}" in said.read_text()
        for name, status in ((f"[::1]:{port}", 200), ("[::1]", 200), ("[::2]", 400), ("evil.invalid", 400)):
            with closing(http.client.HTTPConnection("::1", port, timeout=20)) as line:
                line.request("GET", "/api/visits", headers={"Host": name})
                assert line.getresponse().status == status, name


def test_a_process_begun_beside_a_server_that_was_killed_ends(tmp_path):
    """42 were seen at once: whoever asks for its parent only once that is gone is told of another, which never ends."""
    records = copy_book(tmp_path / "icepick.db")
    with closing(connect(records)) as db, db:
        db.execute("UPDATE summaries SET basis = 'of another day'")
    gone = subprocess.Popen([sys.executable, "-c", ""])
    gone.wait()
    command = [sys.executable, "-c", "from icepick.cli import main; main()", "summarize"]
    began = time.monotonic()
    subprocess.run([*command, "--server", str(gone.pid), str(records)], check=True, timeout=60)
    with closing(connect(records)) as db:
        (left,) = db.execute("SELECT count(*) FROM summaries WHERE basis = 'of another day'").fetchone()
    assert left > 50, "it went on without its server"
    assert time.monotonic() - began < 30


def test_a_head_without_end_is_refused(served):
    _, port, _ = served
    status, *_ = asked(port, "GET", "/api/visits", headers={"X-Long": "x" * (MAX_HEADERS + 1)})
    assert status == 431


def test_it_stops_when_it_is_told_to(served):
    process, _, said = served
    os.kill(process.pid, signal.SIGTERM)
    assert process.wait(timeout=10) == 0
    assert "Traceback" not in said.read_text()


def test_where_others_reach_it_nobody_comes_in_without_the_code_from_the_terminal(tmp_path):
    with serving(tmp_path, "--host", "0.0.0.0") as (_, port, said):
        printed = said.read_text()
        assert asked(port, "GET", "/api/visits")[0] == 401
        own = re.search(r"On phones: http://([^:]+):\d+", printed).group(1)
        assert asked(port, "GET", "/api/session", headers={"Host": f"{own}:{port}"})[0] == 200
        assert asked(port, "GET", "/api/session", headers={"Host": "elsewhere.example"})[0] == 400
        assert "--allow-host" in printed
        assert "Without TLS" in printed
        code = re.search(r"for 60 minutes: (\S+)", printed).group(1)
        first = {"name": "Wren Alder", "passphrase": PASSPHRASE, "code": code}
        status, body, cookie = asked(port, "POST", "/api/session/first", first)
        assert status == 201
        held = {"Cookie": cookie.partition(";")[0], "X-CSRF-Token": json.loads(body)["csrf"]}
        call = {"entry_key": "first call", **NEW_CALL}
        assert asked(port, "POST", "/api/visits", call, held)[0] == 201
    # On this machine alone, there is an account now.
    with serving(tmp_path) as (_, port, said):
        assert "Nobody can sign in" not in said.read_text()
        assert asked(port, "GET", "/api/visits")[0] == 401
        assert asked(port, "GET", "/api/visits", headers=held)[0] == 200


@pytest.fixture
def certificates(tmp_path):
    """An authority made for this test: what a browser would trust, and a certificate of *localhost* and its key."""
    authority = trustme.CA()
    own = authority.issue_cert("localhost")
    trusted = ssl.create_default_context()
    authority.configure_trust(trusted)
    own.cert_chain_pems[0].write_to_path(tmp_path / "cert.pem")
    own.private_key_pem.write_to_path(tmp_path / "key.pem")
    return trusted, tmp_path / "cert.pem", tmp_path / "key.pem"


def test_over_tls(tmp_path, certificates):
    trusted, certificate, key = certificates
    options = ("--certificate", str(certificate), "--key", str(key), "--allow-host", "shop.example")
    with serving(tmp_path, *options, tls=trusted) as (process, port, said), ExitStack() as lines:
        assert "Without TLS" not in said.read_text()
        for _ in range(3 * THREADS):
            # Nothing comes of them, not even a handshake.
            lines.enter_context(socket.create_connection(("127.0.0.1", port)))
        code = re.search(r"for 60 minutes: (\S+)", said.read_text()).group(1)
        first = {"name": "Wren Alder", "passphrase": PASSPHRASE, "code": code}
        status, body, cookie = asked(port, "POST", "/api/session/first", first, tls=trusted)
        assert status == 201
        assert cookie.startswith("__Host-icepick=")
        assert "; Secure" in cookie
        held = {"Cookie": cookie.partition(";")[0], "X-CSRF-Token": json.loads(body)["csrf"]}
        # A body of many pieces, both ways.
        call = {"entry_key": "first call", **NEW_CALL}
        visit = json.loads(asked(port, "POST", "/api/visits", call, held, tls=trusted)[1])["id"]
        rows = "".join(f"{n},{30 + n % 7}\n" for n in range(50_000))
        csv = f"seconds,outdoor_coil temperature [degF]\n{rows}".encode()

        def ask(verb, path, body):
            kind = {"Content-Type": "application/octet-stream"} if isinstance(body, bytes) else {}
            status, answer, _ = asked(port, verb.upper(), path, body, held | kind, tls=trusted)
            return status, json.loads(answer)

        coming = Coming(ask, visit, csv)
        coming.say(coming.known(), clock_unit="s", started_at="2026-01-15T07:00:00Z")
        assert coming.enter()[1]["recording"] == "recording-1"
        whole = asked(port, "GET", f"/api/visits/{visit}/recordings/recording-1", None, held, tls=trusted)
        assert len(json.loads(whole[1])["series"][0]["values"]) == 50_000
        # Who fails is known by the address that came in, not by what hands it on.
        wrong = {"name": "Wren Alder", "passphrase": "not the one at all"}
        assert asked(port, "POST", "/api/session", wrong, tls=trusted)[0] == 401
        with closing(connect(tmp_path / "icepick.db")) as db:
            assert [row["address"] for row in db.execute("SELECT address FROM failures")] == ["127.0.0.1"]
        with pytest.raises((OSError, http.client.HTTPException)):
            asked(port, "GET", "/healthz")
        os.kill(process.pid, signal.SIGTERM)
        assert process.wait(timeout=10) == 0
        assert "Traceback" not in said.read_text()


@pytest.mark.parametrize(("options", "believed"), [(("--proxy", "127.0.0.1"), True), ((), False)])
def test_a_proxy_is_believed_where_it_is_named(tmp_path, options, believed):
    make_people(tmp_path / "icepick.db", "lead")
    said_by_it = {"X-Forwarded-Proto": "https", "X-Forwarded-For": "198.51.100.9"}
    with serving(tmp_path, *options) as (_, port, _said):
        right = {"name": "lead", "passphrase": PASSPHRASE}
        _, _, cookie = asked(port, "POST", "/api/session", right, said_by_it)
        assert ("; Secure" in cookie) is believed
        asked(port, "POST", "/api/session", {**right, "passphrase": "not the one at all"}, said_by_it)
        with closing(connect(tmp_path / "icepick.db")) as db:
            seen = [row["address"] for row in db.execute("SELECT address FROM failures")]
        assert seen == ["198.51.100.9" if believed else "127.0.0.1"]


def test_what_did_not_come_through_tls_is_refused():
    answers = []
    with socket.socket() as sock:
        front = Front(sock, ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER), ("127.0.0.1", 1))
        inside = front.names_callers(lambda environ, start: answers.append(environ) or [b""])
        inside({"REMOTE_PORT": "40000"}, lambda status, headers: answers.append(status))
    assert answers == ["421 Misdirected Request"]


def test_a_certificate_that_can_not_be_used_is_named(tmp_path, certificates):
    _, certificate, key = certificates
    (tmp_path / "other.pem").write_text("no key")
    for one, other, said in (
        (tmp_path / "gone.pem", key, "gone.pem is not there"),
        (certificate, tmp_path / "other.pem", "can't be used"),
        (key, certificate, "can't be used"),
    ):
        with pytest.raises(CertificateError, match=said):
            context(one, other)


@pytest.mark.parametrize(
    ("bound", "names", "options", "from_elsewhere"),
    [
        ("127.0.0.1", (), {}, False),
        ("127.0.0.1", ("localhost",), {}, False),
        ("127.0.0.1", ("shop.example",), {}, True),
        ("127.0.0.1", (), {"proxy": "127.0.0.1"}, True),
        ("0.0.0.0", (), {}, True),
    ],
)
def test_who_can_be_reached_from_elsewhere_asks_for_accounts(bound, names, options, from_elsewhere):
    with socket.socket() as sock:
        sock.bind((bound, 0))
        assert Reach.of(sock, bound, names, **options).from_elsewhere is from_elsewhere
