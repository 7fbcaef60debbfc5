"""What all tests share: a quiet place for settings, and no window left behind."""

import os
from pathlib import Path

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
settings.register_profile("steady", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("steady")


# Simulations, processes and whole journeys: bin/test --quick leaves them out.
_SLOW = (
    "hostile/", "app/journeys/", "app/steps/", "app/centre/", "app/frame/", "bench/", "cli/", "core/fit/", "core/pack/",
    "core/regression/test_fit_in_full.py", "core/regression/test_every_kind.py", "core/results/test_every_field.py",
    "core/wake/test_wake.py", "core/test_rooms.py", "test_benchmarks.py", "test_demo.py", "test_loading.py",
    "test_set_up.py",
)  # fmt: skip


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    here = Path(__file__).parent
    for item in items:
        if item.path.relative_to(here).as_posix().startswith(_SLOW):
            item.add_marker(pytest.mark.slow)


@pytest.fixture
def demo_file(tmp_path: Path) -> Path:
    """A copy of the demo job to work on."""
    from able_yardstick.demo import fresh_copy

    return fresh_copy(tmp_path)


@pytest.fixture(scope="session")
def demo_job():
    """The demo job, read once: it never changes, so that what is reckoned from it is reckoned once too."""
    from able_yardstick.core.job.job import Job
    from able_yardstick.demo import demo_text

    return Job.model_validate_json(demo_text())
