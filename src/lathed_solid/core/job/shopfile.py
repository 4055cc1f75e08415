"""The shop's own tables on disk: they belong to the user, not to a job."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

import msgspec
from platformdirs import user_config_path

from ..plan.shop import Shop, stock_lists, with_prices
from ..refusal import Refusal
from .files import CannotBeRead, read_whole, write_atomic

#: A table is no larger than this, bytes.
_MOST = 4_000_000


class Found(NamedTuple):
    """``trouble`` says why the file was not taken; it is left as it is until the tables are changed."""

    shop: Shop
    trouble: str = ""


def usual_place() -> Path:
    """Where the user's own tables lie."""
    return user_config_path("lathed-solid") / "shop.json"


def load(path: Path) -> Found:
    """The tables of a file; the standards' own when there is none, or none that can be used."""
    if not path.exists():
        return Found(Shop())
    try:
        shop = msgspec.json.decode(read_whole(path, _MOST), type=Shop)
        for unit in ("mm", "in"):
            stock_lists(shop, unit)
        return Found(with_prices(shop, shop.prices))
    except (msgspec.DecodeError, CannotBeRead, Refusal, UnicodeDecodeError) as error:
        words = f"Your shop's tables in {path} cannot be used ({str(error)[:120]}); the standards' lists are shown."
        return Found(Shop(), words)


def save(path: Path, shop: Shop) -> None:
    """Raises CannotWrite. A file that could not be used before is kept beside."""
    if load(path).trouble:
        path.replace(path.with_name(path.name + ".damaged"))
    path.parent.mkdir(parents=True, exist_ok=True)
    write_atomic(path, msgspec.json.format(msgspec.json.encode(shop)))
