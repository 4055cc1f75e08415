"""Every tool of the plate at random places of sketches that lie on a part: each makes something that solves, is found
whole when it is saved and read, or refuses in words.
"""

from __future__ import annotations

import random
from collections.abc import Callable
from functools import partial
from pathlib import Path

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.route.settling import settle_sketch
from lathed_solid.core.sketch.hand.tool import Given, Tool, Typed
from lathed_solid.core.sketch.hand.tools import TOOLS
from lathed_solid.core.sketch.make.draw import Spot
from lathed_solid.core.sketch.make.snap import snap
from lathed_solid.core.sketch.model import Point, Sketch
from lathed_solid.core.sketch.shadow import with_part, without_part
from lathed_solid.core.sketch.solver.soundness import sound

from .outcome import Outcome

EXAMPLES = Path(__file__).parents[1] / "examples"
#: Whose sketches lie on faces of the part.
ON_FACES = ("skp-02", "skp-07")
_AT = Point("z", 0.0, 0.0)


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """A few tools one after the other on one sketch, then on the next."""
    found, bases = Outcome(), _bases()
    while going():
        content, sketch = rng.choice(bases)
        for _ in range(rng.randrange(1, 6)):
            tool = rng.choice(list(TOOLS.values()))
            given = _given(rng, tool, sketch)
            made = found.attempt(partial(_made, content, sketch, tool, given), (tool.id, sketch.name, given))
            if not isinstance(made, Sketch):
                break
            if aside := sound(without_part(made)).aside:
                found.fault("it would be set aside when it is read again", (tool.id, sketch.name, given, aside[:2]))
            sketch = made
    return found


def _bases() -> list[tuple[Content, Sketch]]:
    found = []
    for name in ON_FACES:
        content = storage.load(EXAMPLES / f"{name}.lathed").job.content
        shadows = dict(build_and_prove(content).result.shadows)
        for sketch in content.sketches:
            if sketch.id in shadows and shadows[sketch.id].ghost.items:
                found.append((content, with_part(sketch, shadows[sketch.id].ghost)))
    return found


def _given(rng: random.Random, tool: Tool, sketch: Sketch) -> Given:
    points = list(sketch.points().values()) or [_AT]
    spots: list[Spot] = []
    for _ in range(tool.clicks if tool.clicks >= 0 else 3):
        point = rng.choice(points)
        x, y = (v + rng.choice((0.0, 0.0, rng.gauss(0, 3))) for v in (point.x, point.y))
        spots.append(snap(sketch, x, y, 2.0, spots[-1] if spots else None).spot)
    ids = [e.id for e in sketch.entities]
    chosen = rng.sample(ids, min(len(ids), rng.randrange(1, 4))) if tool.chosen else []
    fields = [f for row in tool.fields for f in row if f.usual or rng.random() < 0.5]
    typed = {f.key: Typed(f.usual or "5", float(f.usual) if f.usual.isdigit() else 5.0) for f in fields}
    return Given(tuple(spots), typed, tuple(chosen))


def _made(content: Content, sketch: Sketch, tool: Tool, given: Given) -> Sketch:
    """What the tool makes, which must be solved as it is stored. Raises Refusal."""
    made = tool.make(sketch, given)
    stored = without_part(made)
    settle_sketch(stored, edits.set_sketch(content, stored).ledger())
    return made
