"""The shipped jobs, each test with a folder of its own for what they bring along."""

import pytest

from lathed_solid.core.job import storage
from lathed_solid.core.job.attachments import Store

from ...conftest import EXAMPLES


@pytest.fixture
def store(tmp_path):
    return Store(tmp_path)


@pytest.fixture
def example(store):
    return lambda number: storage.load(EXAMPLES / f"skp-{number}.lathed", store).job.content
