"""Where a sound unit still leaves a complaint: weather, house and heater."""

from icepick.core.practice.definition import Limit
from icepick.core.properties.quantities import Kind

_MEMORY = "common practice; figure from memory"

LIMITS: tuple[Limit, ...] = (
    Limit(
        "backup_expected",
        30,
        "degF",
        Kind.TEMPERATURE,
        _MEMORY,
        "Balance points lie at 25 to 40 °F (−4 to 4 °C): colder than this outdoors backup heat belongs on, warmer it is "
        "asked why.",
    ),
    Limit(
        "room_set_back",
        66,
        "degF",
        Kind.TEMPERATURE,
        "our own choice",
        "A house so cold under a heating call is coming up from a set-back, or has been without heat.",
    ),
    Limit(
        "return_warm",
        82,
        "degF",
        Kind.TEMPERATURE,
        "our own choice",
        "Air that comes back so warm in cooling is not the room's, or the house is being pulled down.",
    ),
    Limit(
        "design_day",
        95,
        "degF",
        Kind.TEMPERATURE,
        _MEMORY,
        "Outdoor design temperatures of cooling lie about here; a unit sized by them has nothing to spare beyond.",
    ),
    Limit(
        "supply_lukewarm",
        80,
        "degF",
        Kind.TEMPERATURE,
        "our own choice",
        "Supply air cooler than this in heating is not only felt as cold.",
    ),
    Limit(
        "skin",
        100,
        "degF",
        Kind.TEMPERATURE,
        _MEMORY,
        "Air under this feels cool on skin while it warms the room.",
    ),
    Limit(
        "airflow_off",
        20,
        "percent",
        Kind.SHARE,
        "our own choice",
        "A measured airflow so far off the manufacturer's is said.",
    ),
)
