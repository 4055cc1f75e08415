"""Everything a kernel process needs, imported once so that each process starts at once."""

from ..core.job import proving, settle  # noqa: F401
from ..core.kernel import boolean, edges, exchange, outline, picture, section, surfaces, sweep  # noqa: F401
from ..core.prove import measure, prove  # noqa: F401
from . import process  # noqa: F401
