import pytest

from builders import valve_run, visit_document


@pytest.fixture
def healthy_cooling():
    return visit_document(valve_run("cooling", 170, 50, 168, 52))
