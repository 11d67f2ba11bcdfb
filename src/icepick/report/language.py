"""The customer page's words, one file a language; a file that lacks a sentence is not taken."""

from __future__ import annotations

from datetime import date
from functools import cache
from importlib.resources import files
from typing import Annotated, get_args

from pydantic import BeforeValidator, Field

from icepick.core.customer import Done, Finding, Next, Plain, Stands
from icepick.core.document.base import Document, parse
from icepick.core.document.codes import Complaint
from icepick.core.document.examination import Fault

DEFAULT = "en"


class FaultWords(Document):
    """A fault in a customer's words: what is so, as part of a sentence; what that means; what comes next."""

    is_so: Annotated[str, Field(alias="is")]
    means: str
    next: str


def _complete(*keys: str) -> BeforeValidator:
    def held(words: object) -> object:
        if not isinstance(words, dict) or set(words) != set(keys):
            missing = sorted(set(keys) ^ set(words if isinstance(words, dict) else ()))
            raise ValueError(f"must say {', '.join(missing)}, and nothing else")
        return words

    return BeforeValidator(held)


_OF_FAULTS: tuple[Finding, ...] = ("may", "likely", "known")
"""What is found and means what the fault does."""


class Language(Document):
    """Every word of the customer page. ``{fault}``, ``{other}``, ``{words}``, ``{date}`` and ``{names}`` stand for what comes
    there."""

    name: str
    title: str
    stands: Annotated[dict[str, str], _complete(*get_args(Stands))]
    headings: Annotated[dict[str, str], _complete("came", "found", "was", "means", "meant", "done", "next")]
    came: Annotated[dict[str, str], _complete(*get_args(Complaint), "unknown")]
    found: Annotated[dict[str, str], _complete(*get_args(Finding))]
    means: Annotated[dict[str, str], _complete(*(one for one in get_args(Finding) if one not in _OF_FAULTS))]
    done: Annotated[dict[str, str], _complete(*get_args(Done))]
    in_our_words: str
    next: Annotated[dict[str, str], _complete(*(one for one in get_args(Next) if one != "fault"))]
    faults: Annotated[dict[str, FaultWords], _complete(*get_args(Fault), "outdoor_fan_stopped")]
    prepared: str
    prepared_by_nobody: str
    behind: str
    written: str
    months: Annotated[list[str], Field(min_length=12, max_length=12)]

    def day(self, day: date) -> str:
        """A day as this language writes it."""
        return self.written.format(month=self.months[day.month - 1], day=day.day, year=day.year)


class CustomerPage(Document):
    """The customer page in words: how the unit stands, then a sentence under each heading."""

    title: str
    stands: str
    lines: list[tuple[str, str]]


def languages() -> dict[str, str]:
    """The languages there are, each code with its name."""
    here = files("icepick.report") / "languages"
    codes = sorted(one.name.removesuffix(".json") for one in here.iterdir() if one.name.endswith(".json"))
    return {code: language(code).name for code in codes}


@cache
def language(code: str) -> Language:
    """A language by its code.

    Raises
    ------
    KeyError
        There is no file for it.
    """
    file = files("icepick.report") / "languages" / f"{code}.json"
    if not code.isalpha() or not file.is_file():
        raise KeyError(code)
    return parse(Language, file.read_bytes())


def customer_page(told: Plain, words: Language, added: str | None = None) -> CustomerPage:
    """What a customer is told, in five sentences.

    Parameters
    ----------
    told : Plain
        What there is to tell.
    words : Language
        In which language.
    added : str, optional
        What the technician says of the work in plain words.

    Returns
    -------
    CustomerPage
        Ready to be shown or printed.
    """
    faults = [words.faults[fault] for fault in told.faults]
    named = {name: fault.is_so for name, fault in zip(("fault", "other"), faults, strict=False)}
    done, repaired = words.done[told.done], told.done == "cured" and bool(faults)
    return CustomerPage(
        title=words.title,
        stands=words.stands[told.stands],
        lines=[
            (words.headings["came"], words.came[told.complaint or "unknown"]),
            (words.headings["was" if repaired else "found"], words.found[told.found].format(**named)),
            (
                words.headings["meant" if repaired else "means"],
                words.means.get(told.found) or faults[0].means,
            ),
            (words.headings["done"], f"{done} {words.in_our_words.format(words=added)}" if added else done),
            (words.headings["next"], words.next.get(told.next) or faults[0].next),
        ],
    )
