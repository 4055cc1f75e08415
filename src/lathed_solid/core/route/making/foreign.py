"""How it is made: a body from a STEP, BREP or STL file."""

from __future__ import annotations

from ...kernel.files.reading import read_solids
from ..joining import joined
from ..model import Built, FileLook, Unfinished
from ..steps.foreign import Foreign
from ..workshop import Maker, Workshop


def build(step: Foreign, shop: Workshop) -> Built:
    if not step.attachment:
        raise Unfinished("Choose the STEP, BREP or STL file.")
    data = shop.attachment(step.attachment)
    scale = shop.value(step.scale, "Scale", "number")
    found = read_solids(data, step.file, step.id, scale, step.mend == "mend")
    if step.mode != "new":
        return joined(step.id, step.mode, [f.body for f in found], shop)
    shop.begin(step.id)
    for number, one in enumerate(found, 1):
        id_ = step.id if number == 1 else f"{step.id}/{number}"
        shop.bodies[id_] = one.body
        shop.looks[id_] = FileLook(one.name, one.color)
    remark = f"The file holds {len(found)} solids: each is a body of its own." if len(found) > 1 else ""
    told = " and ".join(f.found for f in found if f.found)
    if told:
        exact = "Its sizes are as exact as the numbers of the file."
        remark = f"{remark} A mesh: found in its triangles were {told}. {exact}".strip()
    return Built(found[0].body, remark=remark)


MAKERS = {Foreign: Maker(build)}
