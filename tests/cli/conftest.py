"""What tests of the command line share."""

import pytest

from able_yardstick.demo import demo_text


@pytest.fixture
def job(tmp_path):
    """The demo job as a file."""
    path = tmp_path / "kiln.yardstick.json"
    path.write_text(demo_text())
    return path
