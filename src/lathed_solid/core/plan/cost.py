"""What a blank weighs, what of it goes into chips, what it costs, and how it must be held."""

from __future__ import annotations

from typing import NamedTuple

from ..standards.materials import Material
from .blank import Allowed
from .choosing import Way
from .finished import Finished
from .shop import Shop, price_of


class Bill(NamedTuple):
    """Masses in g: of one ``blank``, of its ``chips`` (None before there is a solid). ``each`` is the price of what one
    piece takes, ``whole`` of all the bars or pieces that are bought; None where the shop has no price. ``share`` of
    what is taken is in the part.
    """

    blank: float
    chips: float | None
    share: float | None
    each: float | None
    whole: float | None
    how: str


def bill(way: Way, part: Finished, material: Material, allowed: Allowed, shop: Shop) -> Bill:
    grams = material.grams
    chips = grams(way.volume - part.volume) if part.volume is not None else None
    share = way.share(part.volume) if part.volume is not None else None
    price = price_of(shop, material.name, way.form, way.stock.name)
    if price is None:
        return Bill(grams(way.volume), chips, share, None, None, "")
    section = way.volume / way.length
    step = way.taken / section
    if price.per == "kg":
        each = price.price * grams(way.taken) / 1000
        bought = price.price * grams(section * allowed.bar) / 1000
    else:
        each, bought = price.price * step / 1000, price.price * allowed.bar / 1000
    whole = way.bars * bought if way.bars else allowed.quantity * each
    return Bill(grams(way.volume), chips, share, each, whole, f"{price.price:g}/{price.per}")


#: Lengths in diameters up to which a turned part is held by the chuck alone, and up to which a centre is enough.
FREE, CENTRED = 3.0, 10.0


def holding(length: float, diameter: float) -> str:
    """How a turned part is to be held, by what it sticks out in diameters: a rule of the trade, no standard."""
    ratio = length / diameter
    told = f"It sticks out {ratio:.1f} diameters. Rule of the trade: "
    if ratio <= FREE:
        return told + f"up to {FREE:g} the chuck holds it alone."
    if ratio <= CENTRED:
        return told + f"over {FREE:g} it wants a centre in the tailstock."
    return told + f"over {CENTRED:g} it wants a centre and a steady."
