"""Reading damaged files as far as they go: a member of a broken zip, JSON that was cut off, a document part by part."""

from __future__ import annotations

import io
import json
import math
import struct
import zipfile
import zlib
from typing import Any, Literal

import msgspec

from ..refusal import Refusal

#: A document larger than this is none (guards against zip bombs), bytes.
MAX_JSON = 64 * 1024 * 1024
#: No document is nested deeper; and where a cut-off one may have ended is tried at this many places from its end.
_DEEPEST, _STOPS = 100, 40


Kind = Literal["job", "assembly"]
_CALLED = {"job": "a Lathed Solid job", "assembly": "an assembly"}


class CannotOpen(Refusal):
    """A file nothing could be read from; the text says why."""


def read(text: bytes) -> Any:
    """JSON as plain data; None for what is none, or is nested deeper than any document."""
    try:
        return json.loads(text, parse_constant=_no_number, parse_float=_finite, parse_int=_whole)
    except (ValueError, RecursionError):
        return None


def _no_number(_: str) -> None:
    """NaN and infinity are no sizes: what holds them is told as lost."""


def _finite(text: str) -> float | None:
    value = float(text)
    return value if math.isfinite(value) else None


def _whole(text: str) -> int | None:
    return int(text) if len(text) < 20 else None


def member_of(data: bytes, name: str, member: str, kind: Kind = "job") -> tuple[bytes, tuple[str, ...]]:
    """The text of a document in a file's bytes, from a sound zip or picked out of a damaged one, and what was lost in
    words. Raises CannotOpen, calling the file ``name``.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            info = archive.getinfo(member)
            if info.file_size > MAX_JSON:
                raise CannotOpen(f"{name} holds more than {_CALLED[kind]} can; it was not opened.")
            return archive.read(member), ()
    # A broken archive shows itself in many ways: offsets below zero, unknown methods, encryption flags.
    except (zipfile.BadZipFile, KeyError, zlib.error, EOFError, ValueError, RuntimeError, OSError):
        return _picked_out(data, name, member, kind), ("the file is damaged; it was read as far as possible",)


def _picked_out(data: bytes, name: str, member: str, kind: Kind) -> bytes:
    """Inflate it straight from its local header, as far as the bytes go."""
    at = data.find(b"PK\x03\x04")
    while at >= 0 and len(data) >= at + 30:
        method, name_length, extra_length = struct.unpack("<H", data[at + 8 : at + 10]) + struct.unpack(
            "<HH", data[at + 26 : at + 30]
        )
        start = at + 30 + name_length
        if data[at + 30 : start] == member.encode():
            body = data[start + extra_length :]
            if method == 0:
                return body
            inflater, found = zlib.decompressobj(-15), b""
            try:
                # Small bites: an error in the middle must not cost what came before it.
                for i in range(0, len(body), 64):
                    found += inflater.decompress(body[i : i + 64])
                    if len(found) > MAX_JSON:
                        raise CannotOpen(f"{name} holds more than {_CALLED[kind]} can; it was not opened.")
            except zlib.error:
                pass
            if found:
                return found
        at = data.find(b"PK\x03\x04", at + 4)
    raise CannotOpen(f"{name} is not {_CALLED[kind]}, or nothing of it can be read.")


def closed(text: bytes) -> Any:
    """The longest beginning of cut-off JSON that reads as a whole once its brackets are closed."""
    shown = text.decode("utf-8", "ignore")
    stack: list[str] = []
    inside = escaped = False
    stops: list[tuple[int, str]] = []
    for at, char in enumerate(shown):
        if inside:
            if escaped:
                escaped = False
            elif char == "\\":
                escaped = True
            elif char == '"':
                inside = False
        elif char == '"':
            inside = True
        elif char in "{[":
            stack.append("}" if char == "{" else "]")
            if len(stack) > _DEEPEST:
                return None
        elif char in "}]":
            if stack:
                stack.pop()
            stops.append((at + 1, "".join(reversed(stack))))
        elif char == ",":
            stops.append((at, "".join(reversed(stack))))
    for end, brackets in reversed(stops[-_STOPS:]):
        if (found := read((shown[:end] + brackets).encode())) is not None:
            return found
    return None


def one(value: Any, kind: Any, words: str, lost: list[str]) -> Any:
    """A value read as ``kind``; None when it cannot be, and ``words`` for it among what is ``lost``."""
    try:
        return msgspec.convert(value, kind)
    except msgspec.ValidationError:
        lost.append(words)
        return None


def each(values: Any, kind: Any, words: str, lost: list[str]) -> tuple[Any, ...]:
    """Every one of many that can be read as ``kind``; the others, by ``words`` and what they are known by, are lost."""
    if not isinstance(values, list):
        lost.append(f"all {words}s")
        return ()
    found = []
    for value in values:
        label = value.get("number") or value.get("id") or value.get("label") if isinstance(value, dict) else "?"
        made = one(value, kind, f"{words} {label}", lost)
        if made is not None:
            found.append(made)
    return tuple(found)
