"""Every check, indicator, limit, calculator, doubt and fault code has its page; what is not documented does not exist."""

import re
import sys
from pathlib import Path
from typing import get_args

import pytest

from icepick.core.checks import CHECKS
from icepick.core.checks.run import WORKED_OUT
from icepick.core.document.examination import Fault
from icepick.core.document.words import DOUBTS
from icepick.core.handbook.calculators import CALCULATORS
from icepick.core.handbook.fault_pages import FAULT_PAGES
from icepick.core.indicators import INDICATORS
from icepick.core.practice import LIMITS

ROOT = Path(__file__).parents[2]
DOCS = ROOT / "docs"
sys.path.insert(0, str(ROOT / "tools"))
import make_docs  # noqa: E402


@pytest.mark.parametrize(
    ("page", "names"),
    [
        ("checks.md", [check.code for check in (*CHECKS, WORKED_OUT)]),
        ("indicators.md", [indicator.name for indicator in INDICATORS]),
        ("doubts.md", list(DOUBTS)),
        ("practice-limits.md", [limit.name for limit in LIMITS]),
        ("calculators.md", [entry.code for entry in CALCULATORS]),
        ("faults.md", list(get_args(Fault))),
    ],
)
def test_the_docs_name_everything_and_nothing_more(page, names):
    text = (DOCS / page).read_text("utf-8")
    headed = [line.split("`")[1] for line in text.splitlines() if line.startswith("## `")]
    assert headed == names


@pytest.mark.parametrize("page", make_docs.PAGES)
def test_the_pages_that_restate_the_code_are_current(page):
    assert (DOCS / page).read_text("utf-8") == make_docs.PAGES[page](), "run tools/make_docs.py"


def test_fault_pages_name_indicators_and_faults_that_exist():
    known = set(get_args(Fault))
    for page in FAULT_PAGES:
        assert set(page.mimics) <= known - {page.code}
        assert all((page.title, page.what, page.apart, page.do, page.caution))


def test_every_section_the_code_cites_is_there():
    sections = re.findall(r"^## (\d+)\.", (DOCS / "the-trade.md").read_text("utf-8"), re.M)
    cited = {
        number
        for path in (*ROOT.glob("src/**/*.py"), *ROOT.glob("tests/**/*.py"))
        for found in re.findall(r"the-trade\.md (\d+(?:(?:, | and | to )\d+)*)", path.read_text("utf-8"))
        for number in re.findall(r"\d+", found)
    }
    assert len(cited) >= 7
    assert cited <= set(sections)
