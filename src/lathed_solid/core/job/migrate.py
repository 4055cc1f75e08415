"""Bringing older job files up to date, one format step at a time, on plain data before it is decoded."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from typing import Any

from ..names import callout_refs
from ..refusal import Refusal
from .model import FORMAT


def _five(data: dict[str, Any]) -> dict[str, Any]:
    """Format 5, of the present content and of issued revisions alike."""
    made = {**data, "content": _content_five(data["content"])} if isinstance(data.get("content"), dict) else data
    if not isinstance(data.get("revisions"), list):
        return made

    def kept(revision: Any) -> Any:
        held = isinstance(revision, dict) and isinstance(revision.get("content"), dict)
        return {**revision, "content": _content_five(revision["content"])} if held else revision

    return {**made, "revisions": [kept(r) for r in data["revisions"]]}


def _content_five(content: dict[str, Any]) -> dict[str, Any]:
    """It remembers which numbers were given: everything the file still speaks of was."""
    text = json.dumps(content)
    steps = (int(n) for n in re.findall(r'"s(\d{1,9})["/]', text))
    callouts = (c.get("number") for c in _listed(content, "callouts") if isinstance(c, dict))
    named = (ref.number for ref in callout_refs(text) if ref.number < 10**9)
    numbers = [n for n in (*callouts, *named) if isinstance(n, int)]
    content = {**content, "routes": [_counted_as_before(_ends_of_flats(r)) for r in _listed(content, "routes")]}
    given = {"next_step": max(steps, default=0) + 1, "next_callout": max(numbers, default=0) + 1}
    return {**content, **given}


def _listed(content: dict[str, Any], field: str) -> list[Any]:
    """A list of a job; of a damaged one it may be anything."""
    found = content.get(field)
    return found if isinstance(found, list) else []


def _counted_as_before(route: Any) -> Any:
    """Until format 5 a hole's place on a bottom face was counted along the part's X and Y: it stays where it is."""
    if not isinstance(route, dict) or not isinstance(route.get("steps"), list):
        return route

    def kept(step: Any) -> Any:
        placed = isinstance(step, dict) and step.get("type") == "hole" and step.get("placement") == "point"
        return {**step, "counted": "part"} if placed else step

    return {**route, "steps": [kept(s) for s in route["steps"]]}


_OTHER_END = {"low": "high", "high": "low"}


def _other(name: str) -> str:
    return name.replace("/low/", "/high/") if "/low/" in name else name.replace("/high/", "/low/")


def _ends_of_flats(route: object) -> object:
    """Until format 5 the low end of a turned face was its right one: flats stay where they were milled."""
    if not isinstance(route, dict) or not isinstance(route.get("steps"), list):
        return route
    turned = {s.get("id") for s in route["steps"] if isinstance(s, dict) and s.get("type") == "revolve"}

    def kept(step: object) -> object:
        if not isinstance(step, dict) or step.get("type") != "polygon":
            return step
        face = step.get("face")
        name = str(face.get("name", "")) if isinstance(face, dict) else ""
        if name.partition("/")[0] not in turned:
            return step
        swapped = {"end": _OTHER_END.get(step.get("end", "low"), "low")}
        if step.get("corners") in _OTHER_END:
            swapped["corners"] = _OTHER_END[step["corners"]]
        return {**step, **swapped}

    swapped = [str(o["id"]) for o, n in ((s, kept(s)) for s in route["steps"]) if o is not n]
    text = json.dumps({**route, "steps": [kept(s) for s in route["steps"]]})
    for id_ in swapped:  # what refers to a corner still means the same end
        parts = re.split(rf"({id_}/(?:low|high)/)", text)
        text = "".join(_other(p) if p in (f"{id_}/low/", f"{id_}/high/") else p for p in parts)
    return json.loads(text)


#: From a format to the next one: ``STEPS[n]`` turns format n into n + 1. Each needs a test.
STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    # Formats 2 and 3 only add fields and kinds of element; what is absent takes its default.
    1: dict,
    2: dict,
    3: dict,  # format 4: bodies, planes on faces, many kinds of step
    4: _five,
    5: dict,  # format 6: drills along an axis and from edges, straight grooves, moved bodies, lines lent by sketches
    6: dict,  # format 7: what was set aside
    7: dict,  # format 8: part families
    8: dict,  # format 9: the blank, and machine zero
    9: dict,  # format 10: operation sheets
    10: dict,  # format 11: readings of a part in hand, seats about their holes
    11: dict,  # format 12: surface area, overall size, centre of mass as stated figures
    12: dict,  # format 13: corners in kept measurements, threads felt on solids of others
    13: dict,  # format 14: drawing sheets
    14: dict,  # format 15: how single faces look, running lengths
    15: dict,  # format 16: sheets made straight
    16: dict,  # format 17: finish, form, place and datum letters put on faces
}


class NoJob(Refusal):
    """A file that is no job."""


class TooNew(Refusal):
    """A file written by a later version of the program."""


def migrated(data: dict[str, object]) -> dict[str, object]:
    """``data`` in the present format. Raises TooNew, or NoJob when it is no job."""
    version = data.get("format")
    if not isinstance(version, int) or version < 1:
        raise NoJob("The file does not say which format it is in.")
    if version > FORMAT:
        raise TooNew(f"The file is in format {version}; this version of Lathed Solid reads up to {FORMAT}. Update it.")
    while version < FORMAT:
        data = STEPS[version](data)
        version += 1
        data["format"] = version
    return data
