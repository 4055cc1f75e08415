"""Unpacking what processes say to each other and what is kept small in memory."""

from __future__ import annotations

from functools import cached_property
from typing import Generic, TypeVar

import msgspec

Kind = TypeVar("Kind")


class Unpacker(Generic[Kind]):
    """Reads msgpack bytes as ``kind``, a struct or a union of them. Raises msgspec.DecodeError for what is none.

    Its tables are worked out for the first message: 15 ms for one that holds a whole job, which the window would wait
    for before it stands.
    """

    def __init__(self, kind: object) -> None:
        self._kind = kind

    @cached_property
    def _decoder(self) -> msgspec.msgpack.Decoder[Kind]:
        return msgspec.msgpack.Decoder(self._kind)

    def __call__(self, data: bytes) -> Kind:
        return self._decoder.decode(data)
