"""Sketches drawn from the entry line's commands, for tests."""

from lathed_solid.core.callout import Ledger
from lathed_solid.core.route.settling import dimension_values, settle_sketch
from lathed_solid.core.sketch.explain.diagnose import freedom
from lathed_solid.core.sketch.model import Plane, Sketch
from lathed_solid.core.sketch.typed.commands import read_command

LEDGER = Ledger([])
END = Sketch(id="k1", name="t", plane=Plane("end"))


def typed(*texts, sketch=END):
    """A sketch with the commands drawn into it one after the other, settled."""
    for text in texts:
        sketch = read_command(text, LEDGER, False, sketch).draw(sketch)
    return settle_sketch(sketch, LEDGER)


def values(sketch):
    return dimension_values(sketch, LEDGER)


def ways(sketch):
    """How many ways it can still move."""
    return freedom(sketch, values(sketch)).ways
