"""What the user's own shop has: the sizes on its rack and what material costs there. It belongs to no job."""

from __future__ import annotations

from typing import Literal

import msgspec

from ..refusal import Refusal
from ..standards.stock import FORMS, Stock, listed, read_sizes

#: More of one kind is no table of a shop.
MOST = 2000


class Price(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``price`` of a material by mass or by length; ``form`` and ``size`` narrow it (empty: any)."""

    material: str
    form: str = ""
    size: str = ""
    price: float = 0.0
    per: Literal["kg", "m"] = "kg"


class Shop(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """``lists`` are lists typed over, by form and unit (``round_mm``); what is not there is as standards have it.
    ``currency`` is only shown. ``crib`` names the tools that are there, ``top_speed`` is the machine's highest in turns
    a minute (0: not known).
    """

    lists: dict[str, str] = {}
    prices: tuple[Price, ...] = ()
    currency: str = ""
    crib: tuple[str, ...] = ()
    top_speed: float = 0.0


def for_buying(shop: Shop) -> Shop:
    """What of it prices depend on."""
    return msgspec.structs.replace(shop, crib=(), top_speed=0.0)


def list_text(shop: Shop, form: str, unit: str) -> str:
    """The list of a form as text, as the shop has it."""
    return shop.lists.get(f"{form}_{unit}", listed(form, unit))


def stock_lists(shop: Shop, unit: str) -> dict[str, tuple[Stock, ...]]:
    """Every form's sizes in ``mm`` or ``in``."""
    return {form: read_sizes(form, list_text(shop, form, unit), unit) for form in FORMS}


def with_list(shop: Shop, form: str, unit: str, text: str) -> Shop:
    """A list typed over; empty text is the standard's again. Raises Refusal naming what is no size."""
    key = f"{form}_{unit}"
    lists = {k: v for k, v in shop.lists.items() if k != key}
    plain = " ".join(text.split())
    if plain and plain != listed(form, unit):
        if len(read_sizes(form, plain, unit)) > MOST:
            raise Refusal(f"A list has {MOST} sizes at most.")
        lists[key] = plain
    return msgspec.structs.replace(shop, lists=lists)


def with_prices(shop: Shop, prices: tuple[Price, ...]) -> Shop:
    """Raises Refusal for a price that is none."""
    if len(prices) > MOST:
        raise Refusal(f"The table has {MOST} prices at most.")
    for price in prices:
        if not 0 <= price.price < 1e9:
            raise Refusal(f"{price.material}: {price.price:g} is no price.")
    return msgspec.structs.replace(shop, prices=prices)


def price_of(shop: Shop, material: str, form: str, size: str) -> Price | None:
    """The price that says most of what is asked: of just this size, else of the form, else of the material."""
    fitting = [
        p
        for p in shop.prices
        if p.material.casefold() == material.casefold() and p.form in ("", form) and p.size in ("", size)
    ]
    return max(fitting, key=lambda p: (bool(p.size), bool(p.form)), default=None)


def with_crib(shop: Shop, tool: str, has: bool) -> Shop:
    """A tool is in the crib, or is not. Raises Refusal."""
    others = tuple(t for t in shop.crib if t != tool)
    if has and len(others) >= MOST:
        raise Refusal(f"The crib lists {MOST} tools at most.")
    return msgspec.structs.replace(shop, crib=(*others, tool) if has else others)


def with_top_speed(shop: Shop, turns: float) -> Shop:
    """Raises Refusal for a speed at which no spindle runs."""
    if not 0 <= turns <= 1e6:
        raise Refusal(f"{turns:g} turns a minute is no spindle's highest speed. Type it as on the machine's plate.")
    return msgspec.structs.replace(shop, top_speed=turns)
