"""The customer's page: five plain sentences, no word of the trade, and all of it in one file a language."""

import json
import re
from importlib.resources import files
from itertools import product
from typing import get_args

import pytest

from icepick.core.checks import CHECKS
from icepick.core.customer import Done, Finding, Next, Plain, Stands
from icepick.core.document.base import InvalidDocumentError, parse
from icepick.core.document.codes import Complaint
from icepick.core.document.examination import Fault
from icepick.core.document.stations import STATIONS
from icepick.core.document.words import METERS, PARTS, QUANTITIES, STATES
from icepick.core.handbook.fault_pages import PAGES
from icepick.core.indicators import INDICATORS
from icepick.report.language import Language, customer_page, language, languages

ENGLISH = language("en")
RAW = json.loads((files("icepick.report") / "languages/en.json").read_text("utf-8"))

EVERYDAY = re.findall(
    "[a-z]+",
    "after air and before call change check does end fan filter fluid for frost heat iced "
    "indoor limit low none not nothing off often open opposite outdoor over pipe power run "
    "running runs sensor service setting side start stop stuck supply the too water with wrong ",
)
"""Words of the trade's titles that everybody uses in their sense."""


def jargon():
    """Every word of the trade's own titles that is not an everyday one."""
    titles = [*METERS.values(), *PARTS.values(), *QUANTITIES.values(), *STATES.values()]
    titles += [one.title for one in (*STATIONS, *INDICATORS, *CHECKS, *PAGES.values())]
    words = {word for title in titles for word in re.findall(r"[a-z']{3,}", title.lower())}
    return words - set(EVERYDAY)


def pages():
    """Every page there can be."""
    faults = [fault for fault in get_args(Fault) if fault != "none"] + ["outdoor_fan_stopped"]
    by_finding = {
        **{found: [[]] for found in get_args(Finding)},
        **{found: [[fault] for fault in faults] for found in ("may", "likely", "known")},
        "either": [["undercharge", "liquid_line_restriction"]],
    }
    for found, done in product(get_args(Finding), get_args(Done)):
        for named in by_finding[found]:
            for follows in get_args(Next) if named else [one for one in get_args(Next) if one != "fault"]:
                for complaint in (None, "weak"):
                    yield Plain(
                        complaint=complaint,
                        found=found,
                        faults=named,
                        stands="unsure",
                        done=done,
                        next=follows,
                    )


def test_it_is_always_five_sentences_without_a_word_of_the_trade():
    trade, count = jargon(), 0
    assert {"superheat", "subcooling", "txv", "suction", "discharge", "bypassing", "noncondensables"} <= trade
    assert {"compressor", "coil", "evaporating", "valve", "drier", "undercharge", "solenoid", "port"} <= trade
    for plain in pages():
        page = customer_page(plain, ENGLISH)
        assert len(page.lines) == 5
        for _, sentence in page.lines:
            # One sentence: a capital, no full stop but its own.
            assert re.fullmatch(r"[A-Z][^.?!]*\.", sentence), sentence
            assert not re.search(r"[{}]|\bNone\b|_", sentence), sentence
        words = {word for _, sentence in page.lines for word in re.findall(r"[a-z']{3,}", sentence.lower())}
        assert words & trade == set()
        count += 1
    assert count > 5000
    shown = {
        *(ENGLISH.stands[one] for one in get_args(Stands)),
        *(ENGLISH.came[one] for one in get_args(Complaint)),
    }
    assert {word for text in shown for word in re.findall(r"[a-z']{3,}", text.lower())} & trade == set()


def test_what_carries_the_heat_is_explained_wherever_it_is_named():
    for words in ENGLISH.faults.values():
        for text in (words.is_so, words.means, words.next):
            if "fluid" in text and "fluid that carries the heat" not in words.is_so:
                raise AssertionError(text)
    told = " ".join(f"{one.is_so} {one.means} {one.next}" for one in ENGLISH.faults.values())
    assert "refrigerant" not in told


def test_what_the_technician_says_in_plain_words_stands_beside_what_was_done():
    plain = next(pages())
    with_words = dict(customer_page(plain, ENGLISH, "New filter.").lines)
    assert with_words["What was done"].endswith("Our technician adds: “New filter.”")


def other_language(raw):
    """English, each of its words turned round: a language that has no word in common with it."""
    if isinstance(raw, dict):
        return {key: other_language(value) for key, value in raw.items()}
    if isinstance(raw, list):
        return [other_language(one) for one in raw]
    return re.sub(r"(?<!\{)\b[A-Za-z]+\b(?!\})", lambda word: f"ŋ{word[0][::-1]}ŋ", raw)


def test_another_language_is_one_file():
    turned = parse(Language, json.dumps(other_language(RAW)))
    for plain in list(pages())[::97]:
        page = customer_page(plain, turned)
        told = f"{page.title} {page.stands} " + " ".join(f"{heading} {one}" for heading, one in page.lines)
        assert re.findall(r"(?<![ŋA-Za-z])[A-Za-z]{2,}", told) == []
    assert languages() == {"en": "English"}


@pytest.mark.parametrize("where", ["stands", "found", "means", "done", "next", "faults", "came", "headings"])
def test_a_file_that_lacks_a_sentence_is_not_taken(where):
    short = {**RAW, where: dict(list(RAW[where].items())[1:])}
    with pytest.raises(InvalidDocumentError, match=f"/{where}: "):
        parse(Language, json.dumps(short))


@pytest.mark.parametrize("code", ["de", "", "../en", "EN.json"])
def test_a_language_nobody_wrote_is_none(code):
    with pytest.raises(KeyError):
        language(code)
