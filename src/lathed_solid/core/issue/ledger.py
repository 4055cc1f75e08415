"""The ledger as plain data for other programs: every callout as it is read, and what was measured of it."""

from __future__ import annotations

import json

from ..callout.tell import as_dict
from ..job.model import Content
from ..prove.proof import Proof
from ..prove.tabular import to_dict
from ..refusal import Refusal

#: Told in the file, so that whoever reads it knows what to expect.
_FORM = "lathed-solid ledger 1"


def to_json(content: Content, proof: Proof) -> str:
    """Lengths mm, angles radians, masses grams. A note that cannot be read is told with why."""
    header, ledger = content.header, content.ledger()
    callouts = []
    for callout in content.callouts:
        told: dict[str, object] = {"number": callout.number, "note": callout.note, "label": callout.label}
        try:
            told["reading"] = as_dict(ledger.reading(callout.number), header.units)
        except Refusal as error:
            told["unread"] = error.said_in(header.units)
        callouts.append(told)
    data = {
        "form": _FORM, "number": header.number, "name": header.name, "revision": header.revision,
        "drawing unit": header.units, "material": header.material.name, "density g/cm3": header.material.density,
        "callouts": callouts, "proof": to_dict(proof),
    }  # fmt: skip
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"
