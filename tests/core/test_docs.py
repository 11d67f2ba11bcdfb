"""Every check, indicator, limit and fault code has its page; what is not documented does not exist."""

from pathlib import Path
from typing import get_args

import pytest

from icepick.core.checks import CHECKS
from icepick.core.examination import Fault
from icepick.core.indicators import INDICATORS
from icepick.core.practice import LIMITS

DOCS = Path(__file__).parents[2] / "docs"


@pytest.mark.parametrize(
    ("page", "names"),
    [
        ("checks.md", [check.code for check in CHECKS]),
        ("indicators.md", [indicator.name for indicator in INDICATORS]),
        ("practice-limits.md", [limit.name for limit in LIMITS]),
        ("faults.md", get_args(Fault)),
    ],
)
def test_the_docs_name_everything_and_nothing_more(page, names):
    text = (DOCS / page).read_text("utf-8")
    headed = [line.split("`")[1] for line in text.splitlines() if line.startswith("## `")]
    assert headed == list(names)


def test_the_docs_give_each_limit_as_it_is():
    text = (DOCS / "practice-limits.md").read_text("utf-8")
    for limit in LIMITS:
        section = text.split(f"## `{limit.name}`")[1].split("\n## ")[0]
        assert f"{limit.default:g} {limit.unit}" in section
        assert limit.standing in section
