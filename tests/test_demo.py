"""The demo visits: what they show, and that physics would allow it (CoolProp as the outside reference)."""

import re
from collections.abc import Iterable

import pytest

from demo_book import examined, visits
from icepick.core.diagnosis.hypotheses import RANKED
from icepick.core.document.heads import split
from icepick.core.examine import examine
from plant import PSI, fahrenheit, fluid

VISITS = visits()


def test_the_cases_the_demo_promises():
    outcomes = [
        (visit.site.name, (found := examined(name)).outcome, found.verdict) for name, visit in VISITS.items()
    ]
    assert len(VISITS) >= 5
    assert len({site for site, _, _ in outcomes}) >= 3

    def shown(outcome, words):
        return any(o == outcome and words in v for _, o, v in outcomes)

    assert shown("pass", "sound as far as read in cooling")
    assert shown("pass", "sound as far as read in heating")
    assert shown("fail", "Calling for heating, running in cooling")
    assert shown("fail", "ikely reversing valve bypassing")
    assert shown("fail", "what was read can't tell which")
    assert shown("watch", "Read again")


@pytest.mark.parametrize("name", VISITS)
def test_physics_would_allow_it(name):
    """By CoolProp directly: no gas below dew, no liquid above bubble, coils on the right side of what they meet."""
    visit = VISITS[name]
    f = fluid(visit.unit.refrigerant)
    for run, seen in zip(visit.runs, examined(name).runs, strict=True):
        if run.mode == "off":
            continue
        temperature = {r.station: r.value for r in seen.readings if r.quantity == "temperature"}
        along = next((head.number for head in seen.heads if head.along), None)
        # Of several heads the one the run is examined along.
        temperature |= {
            base: value
            for code, value in temperature.items()
            for base, of in [split(code)]
            if of and of == along
        }
        taps = {
            r.station: r.value * PSI + visit.site.atmosphere for r in run.readings if r.quantity == "pressure"
        }
        flow = seen.apparent_mode
        condenser, evaporator = (
            ("outdoor_coil", "indoor_coil") if flow == "cooling" else ("indoor_coil", "outdoor_coil")
        )
        liquid = [stop.station for stop in seen.path if stop.state == "subcooled_liquid"]
        if "common_suction_tap" in taps and flow != "neither":
            dew = fahrenheit(f.saturation(taps["common_suction_tap"], 1))
            inlet = temperature.get("compressor_inlet", temperature["common_suction"])
            assert -0.6 < inlet - dew < (40 if along or not seen.heads else 100)
        if "liquid_service_tap" in taps and "liquid_line_outdoor" in liquid:
            bubble = fahrenheit(f.saturation(taps["liquid_service_tap"], 0))
            assert -0.6 < bubble - temperature["liquid_line_outdoor"] < 30
            assert temperature["discharge_line"] > bubble + 20
        if flow in ("heating", "cooling") and condenser in temperature and evaporator in temperature:
            outdoors = "outdoor_air_in" if visit.unit.source == "air" else "source_water_in"
            indoors = "return_air" if visit.unit.load == "air" else "load_water_in"
            entering = {"outdoor_coil": outdoors, "indoor_coil": indoors}
            assert temperature[condenser] > temperature[entering[condenser]]
            assert temperature[evaporator] < temperature[entering[evaporator]]


def test_every_fault_that_can_be_ranked_stands_on_top_of_some_visit():
    found = {one.ranking[0].fault for one in map(examined, VISITS) if one.ranking}
    assert set(RANKED) - found == set()


@pytest.mark.one_in(8)
@pytest.mark.parametrize("name", VISITS)
def test_metric_means_metric(name):
    """No figure of the field's units stands alone in a sentence; those of common practice stand beside the metric ones."""

    def sentences(found):
        if isinstance(found, dict):
            found = found.values()
        if isinstance(found, str):
            yield found
        elif isinstance(found, Iterable):
            for part in found:
                yield from sentences(part)

    for sentence in sentences(examine(VISITS[name], units="metric").model_dump(mode="json")):
        field = re.sub(r"°F \([^)]*°C\)|cfm a ton \([^)]*\)", "", sentence)
        assert not re.search(r"°F|\bpsi|Btu|\b(cfm|gpm|ft|lb)\b", field), sentence
