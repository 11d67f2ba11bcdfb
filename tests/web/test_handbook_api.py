"""The Handbook over its API: what a technician would work out on paper, and what CoolProp and the psychrometric chart say."""

from __future__ import annotations

import re

import pytest
from test_api import NEW_CALL, call_on, seen, take, turn_round

from builders import probe, psi
from builders import reading as reading_of
from icepick.core.properties.refrigerants import REFRIGERANTS
from icepick.web import create_app
from plant import ATMOSPHERE, PSI, fahrenheit, fluid, kelvin, saturation_psig

F, PSIG, CFM, FT, GPM, BTU = "degF", "psi", "cfm", "ft", "gpm", "Btu/h"
AIR_5000 = 12.23
"""Air pressure at 5,000 ft [psi]. [published: U.S. Standard Atmosphere 1976, from memory]"""


@pytest.fixture
def client(tmp_path):
    return create_app(tmp_path / "icepick.db").test_client()


def ask(client, code, units="field", **given):
    """A calculator's answer to these numbers, a pair (value, unit) each; what is not said is its default."""
    (entry,) = (one for one in client.get("/api/handbook").json["calculators"] if one["code"] == code)
    filled = {
        wanted["name"]: {
            "value": wanted["shown"]["field"]["default"],
            "unit": wanted["shown"]["field"]["unit"],
        }
        if wanted["units"]
        else wanted["shown"]["field"]["default"]
        for wanted in entry["inputs"]
    }
    assert set(given) <= set(filled), filled
    for name, value in given.items():
        filled[name] = {"value": value[0], "unit": value[1]} if isinstance(value, tuple) else value
    return client.post(f"/api/calculators/{code}?units={units}", json={"given": filled})


def numbers(answer):
    """The results by title, without their units."""
    assert answer.status_code == 200, answer.text
    return {
        result["title"]: float(
            re.match(r"−?[\d,.]+", result["value"]).group().replace(",", "").replace("−", "-")
        )
        for result in answer.json["results"]
    }


def coolprop(refrigerant, psig, quality):
    return fahrenheit(fluid(refrigerant).saturation(psig * PSI + ATMOSPHERE, quality))


# Worked on paper: the trade's own arithmetic, the psychrometric chart at sea level, R-410A charts. [common practice; chart
# and handbook values from memory]
PAPER = [
    # 118 psig is 40 °F, 201 psig is 70 °F on every R-410A chart.
    ("saturation_temperature", {"pressure": (118, PSIG)}, {"dew": (39.9, 0.4), "bubble": (39.8, 0.4)}),
    ("saturation_pressure", {"temperature": (70, F)}, {"bubble": (201, 1), "dew": (200.5, 1.5)}),
    ("superheat", {"pressure": (118, PSIG), "line": (55, F)}, {"superheat": (15, 0.4)}),
    ("subcooling", {"pressure": (365, PSIG), "line": (100, F)}, {"subcooling": (9.6, 0.7)}),
    # (3 × 67 − 80 − 95) / 2 = 13; a dry house on a hot day comes out below zero, which no machine can run at.
    ("target_superheat", {"wet_bulb": (67, F), "outdoor": (95, F)}, {"target superheat": (13, 0)}),
    ("target_superheat", {"wet_bulb": (55, F), "outdoor": (105, F)}, {"target superheat": (0, 0)}),
    # (365 + 14.7) / (118 + 14.7) = 2.86.
    (
        "compression_ratio",
        {"suction": (118, PSIG), "discharge": (365, PSIG)},
        {"compression ratio": (2.86, 0.006)},
    ),
    (
        "compression_ratio",
        {"suction": (118, PSIG), "discharge": (365, PSIG), "elevation": (5000, FT)},
        {"compression ratio": ((365 + AIR_5000) / (118 + AIR_5000), 0.006)},
    ),
    (
        "altitude",
        {"elevation": (5000, FT)},
        {
            "air pressure here": (AIR_5000, 0.05),
            "to add to a gauge for a sea-level chart": (AIR_5000 - 14.7, 0.05),
        },
    ),
    # 10,000 W × 3.412 / (1.08 × 25 °F) = 1,264 cfm.
    (
        "airflow_from_heater",
        {"power": (10, "kW"), "return": (68, F), "supply": (93, F)},
        {"airflow": (1264, 15)},
    ),
    # Thin air carries less heat, so it takes more of it: by the ratio of the air pressures.
    (
        "airflow_from_heater",
        {"power": (10, "kW"), "return": (68, F), "supply": (93, F), "elevation": (5000, FT)},
        {"airflow": (1264 * 14.7 / AIR_5000, 20)},
    ),
    (
        "sensible_heat",
        {"flow": (800, CFM), "return": (70, F), "supply": (100, F)},
        {"sensible heat": (25_920, 300)},
    ),
    # 4.5 × 1,200 × (31.6 − 23.2): enthalpies at 67 and 55 °F wet bulb.
    (
        "total_heat",
        {
            "flow": (1200, CFM),
            "return": (80, F),
            "return_wet_bulb": (67, F),
            "supply": (57, F),
            "supply_wet_bulb": (55, F),
        },
        {"total": (45_400, 1100), "sensible": (29_800, 500)},
    ),
    (
        "dew_point",
        {"temperature": (75, F), "humidity": (50, "percent")},
        {"dew point": (55.1, 0.2), "wet bulb": (62.6, 0.3)},
    ),
    (
        "dew_point",
        {"temperature": (50, F), "humidity": (100, "percent")},
        {"dew point": (50, 0.1), "wet bulb": (50, 0.1)},
    ),
    (
        "water_heat",
        {"flow": (6, GPM), "in": (50, F), "out": (42, F), "factor": (500, "1")},
        {"heat": (24_000, 1)},
    ),
    # Water itself: 8.33 lb/gal × 60 = 500, whatever is mixed into it at zero strength.
    ("fluid_factor", {"strength": (0, "percent"), "temperature": (60, F)}, {"fluid factor": (500, 2)}),
    ("water_flow", {"in": (22, PSIG), "out": (20, PSIG), "rows": "1 4\n2 6\n4 9"}, {"flow": (6, 0)}),
    # Load 40,000 at 0 °F and none at 65; capacity 30,000 at 47 and 15,000 at 17, that is 6,500 at 0 °F: they cross where
    # 6,500 + 500 t = 40,000 − 615.4 t.
    (
        "balance_point",
        {
            "warm_at": (47, F),
            "warm": (30_000, BTU),
            "cold_at": (17, F),
            "cold": (15_000, BTU),
            "design_at": (0, F),
            "load": (40_000, BTU),
            "no_load": (65, F),
        },
        {"balance point": (33_500 / 1115.4, 0.1)},
    ),
    ("sensor", {"resistance": (10, "kohm")}, {"temperature": (77, 0.1)}),
    ("sensor_ohms", {"temperature": (77, "degF")}, {"resistance": (10, 0.01)}),
]


@pytest.mark.parametrize(("code", "given", "expected"), PAPER)
def test_a_calculator_answers_as_on_paper(client, code, given, expected):
    found = numbers(ask(client, code, **given))
    for title, (value, within) in expected.items():
        assert found[title] == pytest.approx(value, abs=within + 1e-9), title


def test_every_calculator_was_worked_on_paper_or_by_coolprop(client):
    codes = {entry["code"] for entry in client.get("/api/handbook").json["calculators"]}
    assert codes == {code for code, _, _ in PAPER} | {"flash_fraction", "pressure_before_flash"}


@pytest.mark.parametrize("refrigerant", REFRIGERANTS)
def test_flash_and_unfelt_loss_are_coolprops(client, refrigerant):
    f = fluid(refrigerant)
    low, liquid = f.pressure(kelvin(35), 1), f.pressure(kelvin(95), 0)
    quality = f.mixture_quality(low, f.liquid_h(kelvin(95) - 1e-3, liquid))
    flash = numbers(
        ask(client, "flash_fraction", refrigerant=refrigerant, liquid=(95, F), evaporating=(35, F))
    )
    assert flash["flash gas"] == pytest.approx(100 * quality, abs=0.4)
    head = saturation_psig(refrigerant, 110, 0)
    lost = numbers(
        ask(client, "pressure_before_flash", refrigerant=refrigerant, pressure=(head, PSIG), line=(95, F))
    )
    assert lost["pressure to lose"] == pytest.approx(head - saturation_psig(refrigerant, 95, 0), abs=0.7)


@pytest.mark.parametrize("refrigerant", REFRIGERANTS)
def test_the_saturation_table_is_coolprops_in_both_units(client, refrigerant):
    field = client.get(f"/api/refrigerants/{refrigerant}/saturation").json
    assert (field["temperature_unit"], field["pressure_unit"], field["glide_unit"]) == ("degF", "psi", "°F")
    assert [row["temperature"] for row in field["rows"]] == list(range(-40, 151))
    for row in field["rows"][::10]:
        if row["temperature"] <= 130:
            for line, quality in (("bubble", 0), ("dew", 1)):
                exact = saturation_psig(refrigerant, row["temperature"], quality)
                assert row[line] == pytest.approx(exact, abs=0.25), (row, line)
    usual = fluid(refrigerant).pressure(kelvin(100), 1)
    spread = fluid(refrigerant).saturation(usual, 1) - fluid(refrigerant).saturation(usual, 0)
    assert field["glide"] == pytest.approx(spread * 1.8, abs=0.15)
    metric = client.get(f"/api/refrigerants/{refrigerant}/saturation?units=metric").json
    assert metric["temperature_unit"] == "degC"
    zero = next(row for row in metric["rows"] if row["temperature"] == 0)
    freezing = next(row for row in field["rows"] if row["temperature"] == 32)
    per_psi = {"bar": PSI / 1e5, "kPa": PSI / 1e3}[metric["pressure_unit"]]
    assert zero["dew"] == pytest.approx(freezing["dew"] * per_psi, abs=0.06 * max(per_psi, 1))
    assert all(row["bubble"] >= row["dew"] - 0.15 for row in field["rows"])


METRIC = {
    "degF": ("degC", lambda f: (f - 32) / 1.8),
    "psi": ("kPa", lambda psi: psi * 6.894757),
    "psia": ("kPa_abs", lambda psi: psi * 6.894757),
    "cfm": ("m3/h", lambda cfm: cfm * 1.699011),
    "gpm": ("L/min", lambda gpm: gpm * 3.785412),
    "Btu/h": ("kW", lambda btu: btu * 0.000293071),
    "ft": ("m", lambda feet: feet * 0.3048),
}


def test_a_calculator_starts_in_the_units_of_the_screen(client):
    """Factors of NIST Special Publication 811, appendix B.8."""
    found = set()
    for entry in client.get("/api/handbook").json["calculators"]:
        for wanted in entry["inputs"]:
            field, metric = wanted["shown"]["field"], wanted["shown"]["metric"]
            if field["unit"] not in METRIC:
                assert metric == field, wanted["name"]
                continue
            unit, converted = METRIC[field["unit"]]
            found.add(unit)
            assert metric["unit"] == unit
            for end in ("default", "low", "high"):
                assert metric[end] == pytest.approx(converted(field[end]), rel=1e-3, abs=1e-3), wanted["name"]
    assert found >= {"degC", "kPa", "m3/h", "m"}


def test_an_answer_is_the_same_answer_in_both_unit_systems(client):
    given = {"pressure": (8, "bar"), "line": (12, "degC")}
    field, metric = (numbers(ask(client, "superheat", units, **given)) for units in ("field", "metric"))
    assert field["superheat"] == pytest.approx(metric["superheat"] * 1.8, abs=0.1)
    dew = coolprop("R-410A", 8e5 / PSI, 1)
    assert field["superheat"] == pytest.approx(12 * 1.8 + 32 - dew, abs=0.1)


@pytest.mark.parametrize(
    ("code", "given", "field", "words"),
    [
        ("superheat", {"pressure": (9000, PSIG)}, "pressure", "outside what can be answered"),
        ("superheat", {"pressure": (118, "ft")}, "pressure", "takes a number in"),
        ("superheat", {"pressure": "a lot"}, "pressure", "takes a number in"),
        ("superheat", {"refrigerant": "R-0"}, "refrigerant", "is not one of"),
        ("superheat", {"refrigerant": (4, PSIG)}, "refrigerant", "takes a word"),
        ("water_flow", {"rows": "1 4\ntwo 6"}, "rows", "“two 6” is not a drop and a flow"),
        (
            "water_flow",
            {"in": (40, PSIG), "out": (20, PSIG), "rows": "1 4\n2 6"},
            "rows",
            "outside the manufacturer's table",
        ),
        ("fluid_factor", {"fluid": "brandy"}, "fluid", "is not one of"),
        ("sensor", {"resistance": (0.0001, "kohm")}, "resistance", "outside"),
    ],
)
def test_a_question_that_has_no_answer_says_which_field_and_why(client, code, given, field, words):
    answer = ask(client, code, **given)
    assert (answer.status_code, answer.mimetype) == (422, "application/problem+json")
    (error,) = answer.json["errors"]
    assert words in error["message"]
    assert error["pointer"] == f"/given/{field}"


def test_what_there_is_not_is_404(client):
    assert client.post("/api/calculators/horoscope", json={"given": {}}).status_code == 404
    assert client.get("/api/refrigerants/R-0/saturation").status_code == 404
    visit = call_on(client, **NEW_CALL)
    for url in (
        f"/api/visits/{visit['id']}/runs/run-9/calculators/superheat",
        f"/api/visits/{visit['id']}/runs/run-1/calculators/horoscope",
        "/api/visits/99/runs/run-1/calculators/superheat",
    ):
        assert client.get(url).status_code == 404, url


def test_a_run_fills_in_what_it_has_by_the_mode_it_ran_in(client):
    """In heating the vapor line carries hot gas: its port is no suction pressure there, as it is in cooling."""
    visit = call_on(client, **NEW_CALL)
    assert turn_round(client, visit, "heating").json == {"run": "run-2"}
    for run, line in (("run-1", 54), ("run-2", 33)):
        for reading in (
            psi("vapor_service_tap", 119),
            reading_of("common_suction", line),
            probe("return_air", 63, "wet_bulb"),
        ):
            body = {"run": run, "entry_key": f"{run}-{reading['station']}", "reading": reading}
            assert client.post(f"/api/visits/{visit['id']}/readings", json=body).status_code == 201
    of = f"/api/visits/{visit['id']}/runs/{{}}/calculators/{{}}"
    cooling = client.get(of.format("run-1", "superheat")).json["given"]
    assert cooling == {
        "refrigerant": "R-410A",
        "pressure": {"value": 119, "unit": PSIG},
        "line": {"value": 54, "unit": F},
    }
    heating = client.get(of.format("run-2", "superheat")).json["given"]
    assert heating == {"refrigerant": "R-410A", "line": {"value": 33, "unit": F}}
    wet = client.get(of.format("run-1", "target_superheat")).json["given"]
    assert wet == {"wet_bulb": {"value": 63, "unit": F}}
    # Filled in and sent as it is, it is answered.
    sent = {"given": {**cooling, "elevation": {"value": 0, "unit": FT}}}
    answer = numbers(client.post("/api/calculators/superheat", json=sent))
    assert answer["superheat"] == pytest.approx(54 - coolprop("R-410A", 119, 1), abs=0.15)


def test_a_limit_of_the_shops_own_judges_and_can_be_given_back(client):
    visit = call_on(client, **NEW_CALL)
    for station, value in (
        ("discharge_line", 170),
        ("valve_to_indoor", 50),
        ("valve_to_outdoor", 168),
        ("common_suction", 57),
    ):
        take(client, visit, station, value)

    def rise():
        checks = seen(client, visit)["examination"]["runs"][0]["checks"]
        return next(check for check in checks if check["code"] == "valve.suction_rise")

    def row(book):
        return next(row for row in book["limits"] if row["name"] == "valve_suction_rise")

    url = "/api/handbook/limits/valve_suction_rise"
    assert rise()["status"] == "fail"
    assert row(client.put(url, json={"value": 9}).json)["value"] == 9
    assert (rise()["status"], rise()["limit"]["value"]) == ("pass", 9)
    assert list(seen(client, visit)["examination"]["changed_limits"]) == ["valve_suction_rise"]
    for wrong in ({"value": "ten"}, {"value": -3}, {}, {"value": 9, "unit": "K"}, {"value": 40}):
        assert client.put(url, json=wrong).status_code == 422, wrong
    assert (rise()["status"], row(client.get("/api/handbook").json)["value"]) == ("pass", 9)
    metric = row(client.put(url, json={"value": 4, "units": "metric"}).json)
    assert (metric["value"], metric["shown"]["metric"]) == (7.2, {"value": 4, "default": 2.778, "unit": "°C"})
    restored = row(client.put(url, json={"value": None}).json)
    assert restored["value"] == restored["default"] == 5
    assert rise()["status"] == "fail"


def test_a_difference_of_pressures_is_above_nothing(client):
    """Lost in a line, asked of a valve: psi. What a gauge shows: psig. [common practice]"""
    limits = {row["name"]: row for row in client.get("/api/handbook").json["limits"]}
    of_pressure = {name for name, row in limits.items() if row["unit"].startswith("psi")}
    assert "condenser_drop" in of_pressure
    assert {limits[name]["unit"] for name in of_pressure} == {"psi"}
    assert {limits[name]["shown"]["metric"]["unit"] for name in of_pressure} == {"kPa"}
    catalogue = client.get("/api/catalogue").json
    assert (catalogue["symbols"]["psi"], catalogue["difference_symbols"]["psi"]) == ("psig", "psi")


def test_every_limit_says_where_it_stands_and_why(client):
    book = client.get("/api/handbook").json
    names = [row["name"] for row in book["limits"]]
    assert len(names) == len(set(names)) > 80
    standings = ("common practice", "physics", "published", "our own choice")
    for row in book["limits"]:
        assert row["value"] == row["default"]
        assert row["standing"].startswith(standings), row
        assert row["reason"].endswith("."), row


def test_every_fault_page_can_be_worked_by(client):
    book = client.get("/api/handbook").json
    codes = {page["code"] for page in book["faults"]}
    for page in book["faults"]:
        assert page["what"]
        assert page["first"], page["code"]
        assert set(page["mimics"]) <= codes - {page["code"]}
        # Where something mimics it, the page says what tells them apart.
        assert page["apart"] or not page["mimics"], page["code"]
        assert len({effect["indicator"] for effect in page["effects"]}) == len(page["effects"])


def test_a_site_high_up_fills_in_its_elevation(client):
    """A gauge there reads less of the same pressure."""
    site = {"name": "Hill Chapel", "elevation": {"value": 5000, "unit": "ft"}}
    visit = call_on(client, **{**NEW_CALL, "new_unit": {**NEW_CALL["new_unit"], "site": site}})
    of = f"/api/visits/{visit['id']}/runs/run-1/calculators"
    assert client.get(f"{of}/superheat").json["given"]["elevation"] == {"value": 5000, "unit": "ft"}
    assert client.get(f"{of}/target_superheat").json["given"] == {}
