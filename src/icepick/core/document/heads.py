"""A unit with several heads, seen in one line: along one of them, with what all of them share.

Every rule of a unit in one line then holds: the head's stations lose their number. Those of the other heads keep it, and so
are none of the line's.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, cast

from icepick.core.document.stations import OF_A_HEAD
from icepick.core.document.visit import Head, Run, Unit


class OneLine(Unit):
    """A unit with several heads as the line along one of them.

    ``head`` is its number; where ``fed`` is false no refrigerant is known to run there, and the line has nothing of its own
    that was read. ``calling`` holds the numbers of those that call, None where nobody noted them; ``calling_share`` is how
    much of all heads' capacity that is, those left out that call and get nothing.
    """

    head: int
    fed: bool
    calling: tuple[int, ...] | None
    calling_share: float
    every_head: list[Head]

    @property
    def described(self) -> Unit:
        """The unit as somebody described it."""
        fields = {name: getattr(self, name) for name in Unit.model_fields}
        return Unit.model_construct(**{**fields, "heads": self.every_head})


def share_calling(heads: Sequence[Head], calling: Sequence[int] | None) -> float:
    """How much of the heads' capacity calls.

    Parameters
    ----------
    heads : sequence of Head
        All of them.
    calling : sequence of int or None
        Numbers of those that call, from 1; all of them where None.

    Returns
    -------
    float
        By nominal capacities where every head states its own, else alike; 0 to 1.
    """
    if calling is None:
        return 1.0
    stated = [one.nominal_capacity.si for one in heads if one.nominal_capacity]
    weights = stated if len(stated) == len(heads) and sum(stated) > 0 else [1.0] * len(heads)
    return float(sum(weights[n - 1] for n in calling) / sum(weights))


def calling_share(unit: Unit) -> float:
    """How much of a unit's indoor coils works: of its heads those that call.

    Parameters
    ----------
    unit : Unit
        The equipment.

    Returns
    -------
    float
        1 on a unit without several heads.
    """
    return unit.calling_share if isinstance(unit, OneLine) else 1.0


def in_one_line(
    unit: Unit, calling: Sequence[int] | None, head: int, *, fed: bool, starved: Collection[int] = ()
) -> OneLine:
    """The unit along one of its heads.

    Parameters
    ----------
    unit : Unit
        With several heads.
    calling : sequence of int or None
        Numbers of the heads that call; None where nobody noted them.
    head : int
        The head's number, from 1.
    fed : bool
        Whether refrigerant runs there.
    starved : collection of int
        Numbers of those that call and get nothing.

    Returns
    -------
    OneLine
        Without heads.
    """
    heads = unit.heads or []
    every = calling or range(1, len(heads) + 1)
    # Where none of them is fed, what works is not known.
    working = [n for n in every if n not in starved] or every
    fields: dict[str, Any] = {name: getattr(unit, name) for name in Unit.model_fields}
    return OneLine.model_construct(
        **{**fields, "heads": None},
        head=head,
        fed=fed,
        # It runs: where none is noted to call, nobody noted those that do.
        calling=tuple(sorted(calling)) if calling else None,
        calling_share=share_calling(heads, working),
        every_head=heads,
    )


def along(run: Run, head: int, only: Collection[str] = ()) -> Run:
    """A run as it was read along one head.

    Parameters
    ----------
    run : Run
        On a unit with several heads.
    head : int
        Its number, from 1.
    only : collection of str
        Stations that alone are in its line; all of the head's where empty.

    Returns
    -------
    Run
        With the head's stations by the names they have on a unit in one line.
    """
    readings = [
        reading.model_copy(update={"station": base})
        if number == head and (not only or base in only)
        else reading
        for reading in run.readings
        for base, number in [split(reading.station)]
    ]
    return run.model_copy(update={"readings": readings})


def split(code: str) -> tuple[str, int | None]:
    """A station of a head, as the station it is on a unit in one line, and the head's number.

    Parameters
    ----------
    code : str
        Code of any station.

    Returns
    -------
    (str, int or None)
        Itself and None where it is no head's.
    """
    base, _, number = code.partition(":")
    return (base, int(number)) if number and base in OF_A_HEAD else (code, None)


def of_head(code: str, head: int) -> str:
    """A station of a unit in one line, as the unit with several heads has it.

    Parameters
    ----------
    code : str
        Code of a station.
    head : int
        The head that the line runs along.

    Returns
    -------
    str
        With the head's number where each head has such a station.
    """
    return f"{code}:{head}" if code in OF_A_HEAD else code


def as_described(unit: Unit, code: str) -> str:
    """A station as the unit's description has it, whichever line it is seen along.

    Parameters
    ----------
    unit : Unit
        The equipment.
    code : str
        Code of a station.

    Returns
    -------
    str
        Itself on a unit in one line.
    """
    return of_head(code, unit.head) if isinstance(unit, OneLine) else code


def numbered(value: object, head: int) -> object:
    """Plain data said along one head, with every station of that head by the name the unit's description has for it.

    Parameters
    ----------
    value : object
        What ``model_dump`` gives: dictionaries, lists and plain values.
    head : int
        The head that the line runs along.

    Returns
    -------
    object
        Of the same shape.
    """
    if isinstance(value, str):
        return of_head(value, head)
    if isinstance(value, list):
        return [numbered(one, head) for one in value]
    if isinstance(value, dict):
        # A coil and the station at its bend share a name: of the parts of a circuit none is numbered.
        return {
            of_head(cast(str, key), head): one if key in _NOT_STATIONS else numbered(one, head)
            for key, one in value.items()
        }
    return value


_NOT_STATIONS = frozenset({"through", "part", "coils", "code", "name", "title", "explain"})
