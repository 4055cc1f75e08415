"""What was read off a picture as proposals, like those of a DXF or a PDF."""

from __future__ import annotations

from ...callout import Ledger
from ..proposals import PICTURE, Proposal
from .doubting import BY_HAND
from .judging import Offer, offers, unread
from .model import SheetText


def proposed(text: SheetText, sheet: int, ledger: Ledger) -> tuple[Proposal, ...]:
    """Offers of a sheet, those with most doubt first; the sure ones last, down the sheet."""
    found = offers(text, ledger)
    every = [_proposal(o, sheet, True) for o in found] + [
        _proposal(o, sheet, False) for o in unread(text, ledger, found)
    ]
    return tuple(sorted(every, key=lambda p: (-p.weight, round(p.y, 2), p.x)))


def _proposal(offer: Offer, sheet: int, is_size: bool) -> Proposal:
    left, top, right, bottom = offer.place
    return Proposal(
        offer.note,
        sheet,
        (left + right) / 2,
        (top + bottom) / 2,
        PICTURE,
        tuple(d.words for d in offer.doubts),
        offer.weight,
        offer.place,
        offer.turned,
        is_size,
    )


def looks_lettered_by_hand(text: SheetText) -> bool:
    return text.unlike > BY_HAND
