"""What the bench's tests share."""

import pytest

from tests.support.lathe import RUNS


@pytest.fixture(autouse=True)
def the_same_scatter_each_time():
    """The lathe's stand-in scatters alike in each test, whichever ran before."""
    RUNS["at"] = 50_000
