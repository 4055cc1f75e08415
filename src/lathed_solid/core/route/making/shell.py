"""How it is made: shell."""

from __future__ import annotations

from ...kernel.cut.hollow import shell
from ..model import Built
from ..steps.shell import Shell
from ..workshop import Maker, Workshop


def build(step: Shell, shop: Workshop) -> Built:
    return Built(shell(shop.body, [f.name for f in step.open], shop.value(step.wall, "Wall"), step.id))


MAKERS = {Shell: Maker(build)}
