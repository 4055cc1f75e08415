"""Damaged job files: opened as far as they go, or refused; what opened can be edited, saved and opened again."""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec

from lathed_solid.core.job import edits, storage
from lathed_solid.core.job.damaged import member_of
from lathed_solid.core.job.settle import settle

from .outcome import Outcome

EXAMPLES = Path(__file__).parents[1] / "examples"
#: What is put in the place of something else.
ODD: tuple[Any, ...] = (
    None,
    True,
    -1,
    0,
    10**12,
    1e300,
    -1e300,
    "",
    "x",
    "#1",
    "s1",
    "k1",
    [],
    {},
    [[]],
    "1" * 3000,
    float("nan"),
    "../x",
)


def run(rng: random.Random, going: Callable[[], bool]) -> Outcome:
    """Bytes and meaning damaged in turn."""
    found = Outcome()
    wholes = [p.read_bytes() for p in sorted(EXAMPLES.glob("skp-0[1-9].lathed"))]
    plain = [json.loads(storage.to_json(storage.decode(member_of(w, "x", storage.MEMBER)[0], "x").job)) for w in wholes]
    while going():
        _spoiled_bytes(rng, rng.choice(wholes), found)
        _spoiled_meaning(rng, rng.choice(plain), found)
    return found


def _spoiled_bytes(rng: random.Random, whole: bytes, found: Outcome) -> None:
    data = bytearray(whole[: rng.randrange(len(whole))] if rng.random() < 0.4 else whole)
    for _ in range(rng.choice((1, 1, 3, 10, 200))):
        if data:
            data[rng.randrange(len(data))] = rng.randrange(256)

    def opened() -> storage.Opened:
        text, lost = member_of(bytes(data), "x", storage.MEMBER)
        return storage.decode(text, "x", lost)

    _goes_on(found.attempt(opened, f"bytes {len(data)}"), found, "bytes")


def _spoiled_meaning(rng: random.Random, plain: dict[str, Any], found: Outcome) -> None:
    text, done = spoiled(rng, plain)
    _goes_on(found.attempt(lambda: storage.decode(text, "x"), done), found, done)


def spoiled(rng: random.Random, plain: dict[str, Any]) -> tuple[bytes, list[str]]:
    """A few values of a sound document changed, dropped or doubled: its text, and what was done."""
    made = copy.deepcopy(plain)
    done = []
    for _ in range(rng.choice((1, 1, 2, 5))):
        path, holder, key = _somewhere(rng, made)
        how = rng.choice(("odd", "drop", "double", "odd"))
        done.append(f"{how} {path}")
        if how == "odd":
            holder[key] = rng.choice(ODD)
        elif how == "drop":
            del holder[key]
        elif isinstance(holder, list):
            holder.insert(key, copy.deepcopy(holder[key]))
    return json.dumps(made).encode(), done


def _somewhere(rng: random.Random, made: Any) -> tuple[str, Any, Any]:
    """A random place in a tree: its path, what holds it, and under which key."""
    path = ""
    holder: Any = {"job": made}
    key: Any = "job"
    while True:
        inner = holder[key]
        if not inner or not isinstance(inner, dict | list) or (path and rng.random() < 0.15):
            return path, holder, key
        holder, key = inner, rng.choice(list(inner)) if isinstance(inner, dict) else rng.randrange(len(inner))
        path += f"/{key}"


def _goes_on(opened: object, found: Outcome, case: object) -> None:
    """What opened must take an edit, and be the same when it is saved and opened again."""
    if not isinstance(opened, storage.Opened):
        return

    def edited() -> bool:
        content, _ = edits.add_callout(opened.job.content, "22")
        settled = settle(content)
        text = storage.to_json(msgspec.structs.replace(opened.job, content=settled.content))
        again = storage.decode(text, "x")
        return not again.lost and again.job.content == settled.content

    done = found.attempt(edited, case)
    if done is None:
        found.fault("opened, and then refuses every edit", case)
    elif not done:
        found.fault("opened, and then cannot be saved and opened again", case)
