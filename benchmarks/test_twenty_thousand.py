"""Twenty thousand visits at the edges of what may be typed: none breaks the examination, no rule gives up (issue 12).

The same draw as in tests/core/test_edges.py, forty times as long and different every time.
"""

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from size import sized
from test_edges import examine_drawn

from edges import practices, visits


@settings(
    max_examples=sized(20_000, 20), deadline=None, suppress_health_check=list(HealthCheck), database=None
)
@given(visits, practices(), st.sampled_from(["field", "metric"]))
def test_twenty_thousand_visits(visit, practice, units):
    examine_drawn(visit, practice, units)
