"""Everything a kernel process needs, imported once so that each process starts at once."""

from ..core.job import proving, settle  # noqa: F401
from ..core.kernel.cut import boolean, edges  # noqa: F401
from ..core.kernel.files import writing as exchange  # noqa: F401
from ..core.kernel.form import outline, sweep  # noqa: F401
from ..core.kernel.ground import picture  # noqa: F401
from ..core.kernel.measure import section, surfaces  # noqa: F401
from ..core.prove import measure, prove  # noqa: F401
from ..core.route.making import maker_of
from ..core.route.registry import KINDS
from . import process  # noqa: F401

for kind in KINDS:
    maker_of(kind(id="s1"))
