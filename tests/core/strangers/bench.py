"""A bench to build parts on as a user does: notes, typed outlines, steps on faces; each edit settles as in the window."""

from lathed_solid.core.job import edits
from lathed_solid.core.job.model import Content
from lathed_solid.core.job.proving import build_and_prove
from lathed_solid.core.job.settle import set_stations, settle
from lathed_solid.core.route.drilling.model import Hole
from lathed_solid.core.route.model import EdgeRef, FaceRef
from lathed_solid.core.route.steps.edges import Chamfer, Fillet
from lathed_solid.core.route.steps.extrude import Extrude
from lathed_solid.core.route.steps.revolve import Revolve
from lathed_solid.core.sketch.model import Plane, Station
from lathed_solid.core.sketch.typed.commands import is_change, read_command

IN3 = 25.4**3


class Bench:
    def __init__(self, *notes, units="mm"):
        self.content = edits.set_header(Content(), units=units)
        for note in notes:
            self.content, _ = edits.add_callout(self.content, note)

    def _settled(self, content):
        found = settle(content)
        assert not found.problems, found.problems
        self.content = found.content

    def sketch(self, *texts, base="end", on="", offset="0", angle="0"):
        self.content, id_ = edits.add_sketch(self.content, "outline", Plane(base, offset, angle, on=on))
        self.draw(id_, *texts)
        return id_

    def draw(self, id_, *texts):
        for text in texts:
            sketch = self.content.sketch(id_)
            command = read_command(text, self.content.ledger(), sketch.turned, sketch)
            self._settled(edits.set_sketch(self.content, command.draw(sketch)))
            assert self.content.sketch(id_).entities or is_change(text)

    def size(self, id_, of, text, kind=None, **how):
        """A size between chosen elements of a sketch."""
        import msgspec

        from lathed_solid.core.sketch.make.size import make_dimension

        sketch = self.content.sketch(id_)
        made, _ = make_dimension(sketch, of, text, kind, **how)
        self._settled(
            edits.set_sketch(self.content, msgspec.structs.replace(sketch, dimensions=(*sketch.dimensions, made)))
        )

    def relate(self, id_, kind, *of):
        from lathed_solid.core.sketch.make.shapes import related

        self._settled(edits.set_sketch(self.content, related(self.content.sketch(id_), kind, *of)))

    def step(self, kind, **fields):
        for name in ("face", "datum", "begin", "other"):
            if isinstance(fields.get(name), str):
                fields[name] = FaceRef(fields[name])
        self.content, id_ = edits.with_step(self.content, kind, **fields)
        return id_

    # --- the usual steps
    def extrude(self, sketch, depth="", mode="add", **how):
        how.setdefault("extent", "depth" if depth else "through")
        how.setdefault("direction", "forward" if depth else "both")
        return self.step(Extrude, sketch=sketch, mode=mode, depth=depth, **how)

    def block(self, *texts, depth, **how):
        return self.extrude(self.sketch(*texts), depth, **how)

    def turned(self, *rows):
        self.content, sketch = edits.add_sketch(self.content, "profile", Plane())
        id_ = self.step(Revolve, sketch=sketch)
        stations = tuple(Station(id=chr(97 + n), **row) for n, row in enumerate(rows))
        self.content = set_stations(self.content, sketch, stations)
        return id_

    def hole(self, face, **how):
        how.setdefault("placement", "point")
        return self.step(Hole, face=face, **how)

    def fillet(self, radius, *edges):
        return self.step(Fillet, radius=radius, edges=tuple(edge(*e) for e in edges))

    def chamfer(self, size, *edges, **how):
        return self.step(Chamfer, size=size, edges=tuple(edge(*e) for e in edges), **how)

    def proved(self):
        return build_and_prove(self.content)


def edge(a, b="", **how):
    return EdgeRef(a, b, **how)
