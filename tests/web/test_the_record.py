"""Whatever is done in whatever order, the record is what was typed: a model in plain Python beside the real thing.

Two technicians work on the same book: entries are sent, sent again and taken back, notes are written over each other,
units are described anew, limits are changed, and the server is started anew in between. After every step each visit is read
back and held against the model.
"""

from __future__ import annotations

import copy
import tempfile
from pathlib import Path
from typing import Any

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import Bundle, RuleBasedStateMachine, initialize, invariant, precondition, rule

from builders import SPLIT_UNIT, reading
from draws import few
from icepick.web import create_app

STATIONS = ("discharge_line", "common_suction", "return_air", "outdoor_air_in")
MARKS = ("oil_stain", "filter_dirty", "outdoor_coil_frosted_even")
MODES = ("cooling", "heating", "defrost", "off")
REFRIGERANTS = ("R-410A", "R-32", "R-134a")
WORDS = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), max_size=40)
# What a field of this country's keyboards gives: one decimal.
DEGREES = st.integers(-100, 1500).map(lambda tenths: tenths / 10)


class TheRecord(RuleBasedStateMachine):
    """``calls`` is the model: for each visit its unit, complaint and runs, as typed."""

    runs = Bundle("runs")
    sent = Bundle("sent")

    @initialize()
    def open_the_book(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.keys = 0
        self.calls: dict[int, dict[str, Any]] = {}
        self.units: dict[int, dict[str, Any]] = {}
        self.start_the_server()

    def teardown(self) -> None:
        if hasattr(self, "folder"):
            self.folder.cleanup()

    @rule()
    def start_the_server(self) -> None:
        self.client = create_app(Path(self.folder.name) / "icepick.db").test_client()

    def key(self) -> str:
        self.keys += 1
        return f"key-{self.keys:06}"

    def ask(self, method: str, url: str, body: Any, status: int, **headers: str) -> Any:
        answer = self.client.open(f"/api{url}", method=method, json=body, headers=headers)
        assert answer.status_code == status, (method, url, body, answer.text)
        return answer.json

    @rule(
        target=runs,
        mode=st.sampled_from(MODES),
        twice=st.booleans(),
        complaint=st.sampled_from((None, "weak", "noise")),
    )
    def start_a_call_on_a_new_unit(self, mode, twice, complaint):
        number = len(self.units) + 1
        unit = {**SPLIT_UNIT, "label": f"unit {number}"}
        body = {
            "entry_key": self.key(),
            "new_unit": {"site": {"name": f"Boat Shed {number}"}, "unit": unit},
            "complaint": complaint,
            "run": {"mode": mode, "minutes_running": 15},
        }
        made = self.ask("POST", "/visits", body, 201)["id"]
        if twice:
            assert self.ask("POST", "/visits", body, 201)["id"] == made
        unit_id = self.ask("GET", f"/visits/{made}", None, 200)["unit_id"]
        assert unit_id not in self.units
        self.units[unit_id] = unit
        return self.opened(made, unit_id, complaint, mode)

    def opened(self, made: int, unit_id: int, complaint: str | None, mode: str) -> tuple[int, str]:
        assert made not in self.calls
        run = {"mode": mode, "minutes_running": 15, "readings": [], "observations": [], "notes": None}
        self.calls[made] = {
            "unit_id": unit_id,
            "unit": copy.deepcopy(self.units[unit_id]),
            "complaint": complaint,
            "runs": {"run-1": run},
            "entries": [],
            "closed": False,
        }
        return made, "run-1"

    @rule(at=runs, twice=st.booleans())
    def close_the_visit_and_knock(self, at, twice):
        """Nothing can be added, changed or taken back any more; what is there stays."""
        call, run = at
        for _ in range(1 + twice):
            self.ask("PUT", f"/visits/{call}/closing", {"closed": True}, 200)
        self.calls[call]["closed"] = True
        taken = {"run": run, "entry_key": self.key(), "reading": reading("common_suction", 50)}
        self.ask("POST", f"/visits/{call}/readings", taken, 423)
        seen = {"run": run, "entry_key": self.key(), "observation": {"code": "oil_stain", "value": None}}
        self.ask("POST", f"/visits/{call}/observations", seen, 423)
        self.ask("POST", f"/visits/{call}/runs", {"entry_key": self.key(), "mode": "cooling"}, 423)
        self.ask("PATCH", f"/visits/{call}/runs/{run}/clock", {"minutes_running": 99}, 423)
        self.ask("PATCH", f"/visits/{call}/runs/{run}/compressor", {"compressor_speed": 99}, 423)
        self.ask("DELETE", f"/visits/{call}/runs/{run}", None, 423)
        revision = self.ask("GET", f"/visits/{call}", None, 200)["notes_revision"][run]
        self.ask(
            "PUT", f"/visits/{call}/runs/{run}/notes", {"text": "late"}, 423, **{"If-Match": str(revision)}
        )
        standing = [entry[0] for entry in self.calls[call]["runs"][run]["readings"]]
        for key in standing[:1]:
            self.ask("POST", f"/visits/{call}/withdrawals", {"entry_key": key}, 423)

    def opened_again(self, call: int) -> None:
        """As the screens do before anything is entered; what is open stays so."""
        was = self.calls[call]["closed"]
        before = self.ask("GET", f"/visits/{call}", None, 200)
        assert (before["closed_at"] is not None) == was
        self.ask("PUT", f"/visits/{call}/closing", {"closed": False}, 200)
        after = self.ask("GET", f"/visits/{call}", None, 200)
        assert after["closed_at"] is None
        assert len(after["reopened"]) == len(before["reopened"]) + was
        self.calls[call]["closed"] = False

    @precondition(lambda self: self.units)
    @rule(target=runs, data=st.data(), mode=st.sampled_from(MODES))
    def start_a_call_on_a_known_unit(self, data, mode):
        unit_id = data.draw(st.sampled_from(sorted(self.units)))
        body = {"entry_key": self.key(), "unit_id": unit_id, "run": {"mode": mode, "minutes_running": 15}}
        return self.opened(self.ask("POST", "/visits", body, 201)["id"], unit_id, None, mode)

    @rule(target=runs, at=runs, mode=st.sampled_from(MODES), twice=st.booleans())
    def switch_mode(self, at, mode, twice):
        call, _ = at
        self.opened_again(call)
        body = {"entry_key": self.key(), "mode": mode, "minutes_running": 3}
        made = self.ask("POST", f"/visits/{call}/runs", body, 201)["run"]
        if twice:
            assert self.ask("POST", f"/visits/{call}/runs", body, 201)["run"] == made
        runs = self.calls[call]["runs"]
        assert made not in runs
        runs[made] = {"mode": mode, "minutes_running": 3, "readings": [], "observations": [], "notes": None}
        return call, made

    @rule(target=sent, at=runs, station=st.sampled_from(STATIONS), value=DEGREES)
    def take_a_reading(self, at, station, value):
        call, run = at
        self.opened_again(call)
        body = {"run": run, "entry_key": self.key(), "reading": reading(station, value)}
        self.ask("POST", f"/visits/{call}/readings", body, 201)
        self.calls[call]["runs"][run]["readings"].append((body["entry_key"], station, value))
        self.calls[call]["entries"].append(body["entry_key"])
        return call, "readings", body

    @rule(target=sent, at=runs, code=st.sampled_from(MARKS), seen=st.sampled_from((None, True, False)))
    def put_a_mark(self, at, code, seen):
        call, run = at
        self.opened_again(call)
        body = {"run": run, "entry_key": self.key(), "observation": {"code": code, "value": seen}}
        self.ask("POST", f"/visits/{call}/observations", body, 201)
        self.calls[call]["runs"][run]["observations"].append((body["entry_key"], code, seen))
        self.calls[call]["entries"].append(body["entry_key"])
        return call, "observations", body

    @rule(one=sent)
    def the_answer_was_lost_and_it_is_sent_again(self, one):
        """Also once it was taken back: it stays taken back; or once the visit was closed: it stands all the same."""
        call, kind, body = one
        self.ask("POST", f"/visits/{call}/{kind}", body, 201)

    @rule(one=sent, station=st.sampled_from(STATIONS))
    def another_entry_under_a_key_that_is_taken(self, one, station):
        call, _, body = one
        other = {"run": body["run"], "entry_key": body["entry_key"], "reading": reading(station, -41.5)}
        self.ask("POST", f"/visits/{call}/readings", other, 409)

    @rule(one=sent)
    def take_it_back(self, one):
        call, kind, body = one
        self.opened_again(call)
        self.ask("POST", f"/visits/{call}/withdrawals", {"entry_key": body["entry_key"]}, 201)
        kept = self.calls[call]["runs"][body["run"]]
        kept[kind] = [entry for entry in kept[kind] if entry[0] != body["entry_key"]]

    @rule(one=sent, other=runs)
    def take_back_what_belongs_to_another_visit(self, one, other):
        call, _, body = one
        if other[0] != call:
            self.ask("POST", f"/visits/{other[0]}/withdrawals", {"entry_key": body["entry_key"]}, 404)

    @rule(at=runs, value=st.sampled_from((-60.1, 350.1, 1e9)))
    def a_slip_of_the_hand(self, at, value):
        call, run = at
        body = {"run": run, "entry_key": self.key(), "reading": reading("discharge_line", value)}
        self.ask("POST", f"/visits/{call}/readings", body, 422)

    @rule(at=runs, text=WORDS, stale=st.booleans())
    def write_notes(self, at, text, stale):
        call, run = at
        self.opened_again(call)
        revision = self.ask("GET", f"/visits/{call}", None, 200)["notes_revision"][run]
        url = f"/visits/{call}/runs/{run}/notes"
        if stale:
            self.ask("PUT", url, {"text": "written over"}, 412, **{"If-Match": str(revision + 1)})
        self.ask("PUT", url, {"text": text}, 200, **{"If-Match": str(revision)})
        self.calls[call]["runs"][run]["notes"] = text

    @rule(at=runs, minutes=st.sampled_from((None, 0, 12.5, 240)))
    def set_the_clock(self, at, minutes):
        call, run = at
        self.opened_again(call)
        self.ask("PATCH", f"/visits/{call}/runs/{run}/clock", {"minutes_running": minutes}, 200)
        self.calls[call]["runs"][run]["minutes_running"] = minutes

    @precondition(lambda self: self.units)
    @rule(data=st.data(), refrigerant=st.sampled_from(REFRIGERANTS))
    def describe_a_unit_anew(self, data, refrigerant):
        """The visit being worked on follows; those before, and one that is closed, keep the unit they were made on."""
        unit_id = data.draw(st.sampled_from(sorted(self.units)))
        changed = {**self.units[unit_id], "refrigerant": refrigerant}
        listed = self.ask("GET", "/units", None, 200)["units"]
        (revision,) = (one["revision"] for one in listed if one["id"] == unit_id)
        self.ask("PUT", f"/units/{unit_id}", changed, 412, **{"If-Match": str(revision + 1)})
        self.ask("PUT", f"/units/{unit_id}", changed, 200, **{"If-Match": str(revision)})
        self.units[unit_id] = changed
        latest = max(number for number, call in self.calls.items() if call["unit_id"] == unit_id)
        if not self.calls[latest]["closed"]:
            self.calls[latest]["unit"] = copy.deepcopy(changed)

    @rule(value=st.sampled_from((None, 4, 7)))
    def change_a_limit(self, value):
        answer = self.ask("PUT", "/handbook/limits/valve_suction_rise", {"value": value}, 200)
        (row,) = (row for row in answer["limits"] if row["name"] == "valve_suction_rise")
        assert row["value"] == (5 if value is None else value)

    @invariant()
    def every_visit_is_as_it_was_typed(self) -> None:
        for number, call in getattr(self, "calls", {}).items():
            view = self.ask("GET", f"/visits/{number}", None, 200)
            visit = view["visit"]
            assert (view["unit_id"], visit["complaint"]) == (call["unit_id"], call["complaint"])
            assert view["set_aside"] == []
            assert (visit["unit"]["label"], visit["unit"]["refrigerant"]) == (
                call["unit"]["label"],
                call["unit"]["refrigerant"],
            )
            assert [run["id"] for run in visit["runs"]] == list(call["runs"])
            for run, typed in zip(visit["runs"], call["runs"].values(), strict=True):
                assert (run["mode"], run["minutes_running"]) == (typed["mode"], typed["minutes_running"])
                assert run["notes"] == typed["notes"]
                assert [(r["station"], r["value"]) for r in run["readings"]] == [
                    (station, value) for _, station, value in typed["readings"]
                ]
                assert [(o["code"], o["value"]) for o in run["observations"]] == [
                    (code, seen) for _, code, seen in typed["observations"]
                ]
            assert [entry["entry_key"] for entry in view["entries"]] == call["entries"]
            stands = {e[0] for run in call["runs"].values() for e in (*run["readings"], *run["observations"])}
            assert {e["entry_key"] for e in view["entries"] if not e["withdrawn"]} == stands

    @invariant()
    def every_visit_and_unit_is_listed_once(self) -> None:
        if hasattr(self, "calls"):
            pages = self.ask("GET", "/visits", None, 200)["pages"]
            listed = [
                line
                for page in range(1, pages + 1)
                for line in self.ask("GET", f"/visits?page={page}", None, 200)["visits"]
            ]
            assert [line["id"] for line in listed] == sorted(self.calls, reverse=True)
            assert [line["modes"] for line in listed] == [
                [run["mode"] for run in self.calls[line["id"]]["runs"].values()] for line in listed
            ]
            assert {one["id"] for one in self.ask("GET", "/units", None, 200)["units"]} == set(self.units)


TheRecord.TestCase.settings = settings(
    max_examples=few(3, 8), stateful_step_count=30, deadline=None, derandomize=True, database=None
)
test_the_record_is_what_was_typed = TheRecord.TestCase
