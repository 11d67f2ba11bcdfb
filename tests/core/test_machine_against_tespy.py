"""The sound cycle against TESPy, a general solver of thermal plants with CoolProp under it, given the same component figures.

TESPy is told displacement, efficiency, superheat, subcooling, and of each coil's mixture its conductance and its share of the
air; it finds both saturations, the flow and the power by itself.
"""

import dataclasses
import warnings

import numpy as np
import pytest
from CoolProp.CoolProp import PropsSI

from icepick.core.machine.coil import conductances
from icepick.core.machine.sizing import size
from icepick.core.properties.states import states
from lazily import Lazily
from solved import at_rest, unit, weather

parts = Lazily("tespy.components")
Connection, Network = Lazily("tespy.connections", "Connection"), Lazily("tespy.networks", "Network")
UNITS = {
    "temperature": "K",
    "temperature_difference": "delta_degC",
    "pressure": "Pa",
    "pressure_difference": "Pa",
    "enthalpy": "J/kg",
    "mass_flow": "kg/s",
    "volumetric_flow": "m3/s",
    "heat": "W",
    "power": "W",
    "heat_transfer_coefficient": "W/K",
}


def one(value):
    return float(np.ravel(value)[0])


def plain(machine):
    """Without the lines and losses that TESPy is not told of."""
    lines = dataclasses.replace(
        machine.lines,
        vapor_loss=1e-6,
        suction_loss=1e-6,
        vapor_conductance=0.0,
        liquid_conductance=0.0,
        liquid_loss=0.0,
        drier_loss=0.0,
        idle_loss=1.0,
        condenser_loss=0.0,
        discharge_loss=0.0,
    )
    return dataclasses.replace(
        machine,
        valve_conduction=0.0,
        compressor=dataclasses.replace(machine.compressor, shell_loss=0.0),
        lines=lines,
        indoor=dataclasses.replace(machine.indoor, pressure_loss=0.0),
        outdoor=dataclasses.replace(machine.outdoor, pressure_loss=0.0),
    )


def air(temperature, carries):
    """TESPy's air is CoolProp's: a mass of it that carries as much [W/K]."""
    mass = carries / PropsSI("C", "T", temperature, "P", 101_325, "Air")
    return {"fluid": {"air": 1}, "T": temperature, "p": 101_325, "m": mass}


def tespy_cycle(fluid, volume, efficiency, superheat, subcooling, hot, cold, start):
    """Evaporating and condensing temperature [K], COP; ``hot`` and ``cold`` are (conductance [W/K], air)."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        network = Network(iterinfo=False)
        network.units.set_defaults(**UNITS)
        closer, compressor, valve = (
            parts.CycleCloser("closer"),
            parts.Compressor("compressor"),
            parts.Valve("valve"),
        )
        gas, liquid, dry = (parts.SimpleHeatExchanger(name) for name in ("gas", "liquid", "dry"))
        condensing, evaporating = parts.HeatExchanger("condensing"), parts.HeatExchanger("evaporating")
        suction = Connection(closer, "out1", compressor, "in1")
        discharge = Connection(compressor, "out1", gas, "in1")
        dew = Connection(gas, "out1", condensing, "in1")
        bubble = Connection(condensing, "out1", liquid, "in1")
        fed = Connection(liquid, "out1", valve, "in1")
        wet = Connection(valve, "out1", evaporating, "in2")
        boiled = Connection(evaporating, "out2", dry, "in1")
        back = Connection(dry, "out1", closer, "in1")
        hot_in = Connection(parts.Source("a"), "out1", condensing, "in2")
        hot_out = Connection(condensing, "out2", parts.Sink("b"), "in1")
        cold_in = Connection(parts.Source("c"), "out1", evaporating, "in1")
        cold_out = Connection(evaporating, "out1", parts.Sink("d"), "in1")
        network.add_conns(
            suction, discharge, dew, bubble, fed, wet, boiled, back, hot_in, hot_out, cold_in, cold_out
        )
        for part in (gas, liquid, dry):
            part.set_attr(pr=1)
        for part in (condensing, evaporating):
            part.set_attr(pr1=1, pr2=1)
        compressor.set_attr(eta_s=efficiency)
        suction.set_attr(fluid={fluid: 1}, m=start[2])
        discharge.set_attr(p=start[1])
        dew.set_attr(x=1)
        bubble.set_attr(x=0)
        fed.set_attr(td_bubble=subcooling)
        boiled.set_attr(x=1, p=start[0])
        back.set_attr(td_dew=superheat)
        hot_in.set_attr(**hot[1])
        cold_in.set_attr(**cold[1])
        network.solve("design")
        suction.set_attr(m=None, v=volume)
        discharge.set_attr(p=None)
        boiled.set_attr(p=None)
        condensing.set_attr(UA=hot[0])
        evaporating.set_attr(UA=cold[0])
        network.solve("design")
        assert network.converged
    heat = discharge.h.val_SI - fed.h.val_SI
    work = discharge.h.val_SI - suction.h.val_SI
    return boiled.T.val_SI, bubble.T.val_SI, heat / work


@pytest.mark.parametrize(
    ("refrigerant", "name", "outdoor"),
    [("R-410A", "R410A", 47), ("R-410A", "R410A", 17), ("R-32", "R32", 35), ("R-290", "R290", 47)],
)
def test_saturations_and_cop(refrigerant, name, outdoor):
    made = unit(refrigerant=refrigerant)
    machine = plain(size(made))
    state = at_rest(made, "heating", weather(made, "heating", outdoor, humidity=0.2), machine=machine)
    assert state.converged
    cycle, fluid = state.cycle, states(refrigerant)
    low, high = fluid.saturated(cycle.evaporating), fluid.saturated(cycle.condensing)
    of_rated = one(cycle.flow) / machine.rated.flow
    hot = conductances(machine.indoor, of_rated, 1.0, 1.0).to_mixture
    cold = conductances(machine.outdoor, of_rated, 1.0, machine.outdoor.as_evaporator).to_mixture
    ideal = fluid.compressed(high, fluid.suction(low, cycle.suction)[2])
    met_hot, met_cold = cycle.condenser_met, cycle.evaporator_met
    shares = one(cycle.condensed.mixture), one(cycle.evaporated.mixture)
    evaporating, condensing, cop = tespy_cycle(
        name,
        one(cycle.flow / cycle.compressed.suction_density),
        one(cycle.flow * (ideal - cycle.suction) / cycle.compressed.power),
        one(cycle.evaporated.superheat),
        one(high.bubble - cycle.condensed.temperature),
        (one(hot) * shares[0], air(one(met_hot.temperature), one(met_hot.carries) * shares[0])),
        (one(cold) * shares[1], air(one(met_cold.temperature), one(met_cold.carries) * shares[1])),
        (0.95 * one(cycle.evaporating), 1.06 * one(cycle.condensing), 1.1 * one(cycle.flow)),
    )
    assert one(low.dew) == pytest.approx(evaporating, abs=0.5)
    assert one(high.bubble) == pytest.approx(condensing, abs=0.5)
    assert one(cycle.condensed.heat / cycle.compressed.power) == pytest.approx(cop, rel=0.01)
