"""What all tests share: a quiet place for settings, and no window left behind."""

import os
from pathlib import Path

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
settings.register_profile("steady", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("steady")


@pytest.fixture
def demo_file(tmp_path: Path) -> Path:
    """A copy of the demo job to work on."""
    from able_yardstick.demo import fresh_copy

    return fresh_copy(tmp_path)


@pytest.fixture
def demo_job():
    """The demo job, read."""
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    return Job.model_validate_json(demo_text())
