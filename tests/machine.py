"""A sound machine at any conditions: a compressor of fixed displacement between two coils, solved for what it does.

Nothing of the code under test, and none of its limits. Airflow and water flow per ton and the effectiveness of a coil are
those of common equipment [common practice, from memory]; the machine is sized once, in cooling at 95 °F outdoors and 80 °F
indoors (the AHRI 210/240 rating point), and every temperature elsewhere follows.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from lazily import Lazily
from plant import fluid, kelvin

optimize = Lazily("scipy.optimize")
TON = 3516.85
# Btu/h and °F in one watt per kelvin.
BTU_PER_DEGREE = 0.52753
# Air: 400 cfm a ton indoors and 900 outdoors at 1.08 Btu/h per cfm and °F; water: 3 gpm a ton at 500. For one ton [W/K].
CARRIED = {
    ("air", "indoor"): 400 * 1.08 * BTU_PER_DEGREE,
    ("air", "outdoor"): 900 * 1.08 * BTU_PER_DEGREE,
    ("water", "indoor"): 3 * 500 * BTU_PER_DEGREE,
    ("water", "outdoor"): 3 * 500 * BTU_PER_DEGREE,
}
EFFECTIVENESS = {
    ("air", "indoor"): 0.63,
    ("air", "outdoor"): 0.72,
    ("water", "indoor"): 0.75,
    ("water", "outdoor"): 0.75,
}
# A coil that condenses is at one temperature but for its first rows; one that cools and dries air is not.
CONDENSES_INDOORS = 0.7
# Entering at the rating point [°F]: AHRI 210/240, and ISO 13256-1 for water.
RATED = {
    ("air", "indoor"): 80.0,
    ("air", "outdoor"): 95.0,
    ("water", "indoor"): 53.6,
    ("water", "outdoor"): 77.0,
}
# CoolProp's mixture solver does not carry these two blends as far; each settles where what it replaces does.
ALIKE = {"R-454B": "R-410A", "R-513A": "R-134a"}
# Well short of the critical point of every refrigerant here [K].
HOTTEST = 340.0
# A cooling coil at 80/67 dries the air: three quarters of its heat are sensible.
SENSIBLE = 0.75
ISENTROPIC, CLEARANCE = 0.68, 0.05
SUPERHEAT, SUBCOOLING = 9 / 1.8, 9 / 1.8


@dataclass(frozen=True)
class Duty:
    """Saturation [°F], and what the air or water gains at each coil [°F] (less than nothing where it gives heat)."""

    evaporating: float
    condensing: float
    outdoor_change: float
    indoor_change: float


@dataclass(frozen=True)
class _State:
    taken_up: float
    rejected: float


def _per_volume(refrigerant: str, evaporating: float, condensing: float) -> _State:
    """Heat at each coil [J] for each cubic metre the compressor displaces, at these saturations [K]."""
    f = fluid(refrigerant)
    low, high = f.pressure(evaporating, 1), f.pressure(condensing, 0)
    suction_t = evaporating + SUPERHEAT
    suction, entropy = f.vapor_h(suction_t, low), f.vapor_s(suction_t, low)
    dew = f.saturation(high, 1)
    ideal = optimize.brentq(lambda t: f.vapor_s(t, high) - entropy, dew + 1e-4, dew + 190, xtol=1e-4)
    work = (f.vapor_h(ideal, high) - suction) / ISENTROPIC
    liquid = f.liquid_h(condensing - SUBCOOLING, high)
    density = f.vapor_density(suction_t, low)
    filled = density * (1 - CLEARANCE * ((high / low) ** 0.85 - 1))
    return _State(filled * (suction - liquid), filled * (suction - liquid + work))


def _uptake(medium: str, side: str, mode: str) -> float:
    """Heat a coil moves for each kelvin between what enters it and its saturation, for one ton [W/K]."""
    if (medium, side, mode) == ("air", "indoor", "heating"):
        return CARRIED[medium, side] * CONDENSES_INDOORS
    carried = CARRIED[medium, side] * EFFECTIVENESS[medium, side]
    return carried / SENSIBLE if (medium, side, mode) == ("air", "indoor", "cooling") else carried


def _solve(
    refrigerant: str, displaced: float, cold: tuple[float, float], warm: tuple[float, float]
) -> tuple[float, float]:
    """Evaporating and condensing temperature [K] of a machine that displaces so much [m³/s]; ``cold`` and ``warm`` are
    (what enters the coil [K], heat per kelvin [W/K])."""

    def short(saturation: tuple[float, float]) -> list[float]:
        per = _per_volume(refrigerant, *saturation)
        return [
            displaced * per.taken_up - cold[1] * (cold[0] - saturation[0]),
            displaced * per.rejected - warm[1] * (saturation[1] - warm[0]),
        ]

    found = optimize.least_squares(
        short,
        (cold[0] - 12, warm[0] + 10),
        bounds=((cold[0] - 40, warm[0] + 1), (cold[0] - 1, min(warm[0] + 35, HOTTEST))),
        diff_step=1e-4,
        xtol=1e-9,
        ftol=1e-12,
    )
    assert max(abs(watt) for watt in found.fun) < 5, found.message
    return float(found.x[0]), float(found.x[1])


@cache
def _displacement(refrigerant: str, source: str, load: str) -> float:
    """What a machine of one ton displaces [m³/s]: one ton in cooling at its rating point."""
    evaporating = kelvin(RATED[load, "indoor"]) - TON / _uptake(load, "indoor", "cooling")
    warm, uptake = kelvin(RATED[source, "outdoor"]), _uptake(source, "outdoor", "cooling")

    def over(condensing: float) -> float:
        per = _per_volume(refrigerant, evaporating, condensing)
        return TON * per.rejected / per.taken_up - uptake * (condensing - warm)

    condensing = optimize.brentq(over, warm + 1, min(warm + 35, HOTTEST), xtol=1e-6)
    return TON / _per_volume(refrigerant, evaporating, condensing).taken_up


@cache
def duty(
    refrigerant: str,
    mode: str,
    outdoor: float,
    indoor: float,
    source: str = "air",
    load: str = "air",
    speed: float = 1,
) -> Duty:
    """What the machine does at these entering temperatures [°F]; ``speed`` is its share of full displacement."""
    refrigerant = ALIKE.get(refrigerant, refrigerant)
    sides = {"outdoor": (source, outdoor), "indoor": (load, indoor)}
    cold_side, warm_side = ("indoor", "outdoor") if mode == "cooling" else ("outdoor", "indoor")
    (cold_medium, cold_in), (warm_medium, warm_in) = sides[cold_side], sides[warm_side]
    displaced = speed * _displacement(refrigerant, source, load)
    evaporating, condensing = _solve(
        refrigerant,
        displaced,
        (kelvin(cold_in), _uptake(cold_medium, cold_side, mode)),
        (kelvin(warm_in), _uptake(warm_medium, warm_side, mode)),
    )
    per = _per_volume(refrigerant, evaporating, condensing)
    share = SENSIBLE if (cold_medium, cold_side) == ("air", "indoor") else 1
    change = {
        cold_side: -1.8 * displaced * per.taken_up * share / CARRIED[cold_medium, cold_side],
        warm_side: 1.8 * displaced * per.rejected / CARRIED[warm_medium, warm_side],
    }
    return Duty(evaporating * 1.8 - 459.67, condensing * 1.8 - 459.67, change["outdoor"], change["indoor"])
