"""What a part is bought as: the stock it comes out of and what a piece of it costs, as planned for its blank."""

from __future__ import annotations

from typing import NamedTuple

from ..plan.blank import FORM_WORDS, worked_out
from ..plan.choosing import AXES, ways
from ..plan.cost import bill
from ..plan.finished import Solid, finished, is_turned
from ..plan.shop import Shop, stock_lists
from ..refusal import Refusal
from .model import Content


class Bought(NamedTuple):
    """``stock`` in words, ``each`` what one piece takes of it costs; None where the shop has no price."""

    stock: str = ""
    each: float | None = None


def bought(content: Content, solid: Solid, shop: Shop) -> Bought:
    """The next size up of the form that was chosen for the blank, else of whichever wastes least; nothing when no stock
    is large enough.
    """
    blank, ledger = content.planned, content.ledger()
    try:
        part = finished(blank, ledger, solid, is_turned(blank, ledger, content.turned))
        allowed, lists = worked_out(blank, ledger), stock_lists(shop, blank.lists or content.header.units)
    except Refusal:
        return Bought()
    found = ways(part, allowed, lists)
    chosen = [w for w in found if not blank.form or (w.form, AXES[w.along]) == (blank.form, blank.along)]
    if not chosen:
        return Bought()
    way = chosen[0]
    told = bill(way, part, content.header.material, allowed, shop)
    return Bought(f"{FORM_WORDS[way.form]} {way.stock.name}", told.each)
