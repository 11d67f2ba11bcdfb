"""The server itself, as a process: who holds a line open and says nothing, or hangs up, takes nothing from the others."""

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import time
from contextlib import ExitStack, closing

import pytest
from test_api import NEW_CALL

from icepick.web.room import THREADS
from icepick.web.security import MAX_HEADERS


@pytest.fixture
def served(tmp_path):
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-c", "from icepick.cli import main; main()", "serve", "--port", str(port)]
    with subprocess.Popen(
        [*command, "--db", str(tmp_path / "icepick.db")], stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    ) as process:
        until = time.monotonic() + 20
        while time.monotonic() < until:
            try:
                if asked(port, "GET", "/api/units/found")[0] == 200:
                    break
            except OSError:
                time.sleep(0.05)
        yield process, port
        process.kill()


def asked(port, verb, path, body=None, headers=None):
    with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=20)) as line:
        text = None if body is None else json.dumps(body)
        line.request(verb, path, text, {"Content-Type": "application/json", **(headers or {})})
        answer = line.getresponse()
        return answer.status, answer.read()


def test_half_open_and_abandoned_requests_hold_nobody_up(served):
    _, port = served
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


def test_a_head_without_end_is_refused(served):
    _, port = served
    status, _ = asked(port, "GET", "/api/visits", headers={"X-Long": "x" * (MAX_HEADERS + 1)})
    assert status == 431


def test_it_stops_when_it_is_told_to(served):
    process, _ = served
    os.kill(process.pid, signal.SIGTERM)
    assert process.wait(timeout=10) == 0
    assert b"Traceback" not in process.stdout.read()
