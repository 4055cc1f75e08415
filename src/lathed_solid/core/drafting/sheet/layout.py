"""Where the callouts of one view stand: lengths in lanes beside it, everything else in columns left and right.

What was decided before (side, order, the place a leader points at) is kept in the labels, so that a changed number
moves a label no farther than what it points at; a label put by hand stays where it is.
"""

from __future__ import annotations

from collections.abc import Sequence

from . import leaders, lengths
from .blocks import block_of, in_line
from .lanes import Length
from .leaders import Leader, Written
from .model import Label
from .placing import Placing
from .seen import Hold
from .slanted import slanted


def lay_out(
    placing: Placing, holds: Sequence[tuple[Hold, Label]], balloons: bool, running: bool = False
) -> list[Written]:
    """The callouts of one view; those that nothing in it shows are left out."""
    box = placing.box()
    if box is None:
        return []
    sized, led, by_hand = list[Length](), list[Leader](), list[Written]()
    stood: list[int] = []
    for hold, label in holds:
        if hold.run is not None and not placing.seen.is_true(hold.run.way):
            continue
        number = hold.number if balloons else 0
        block, text = block_of(hold.head, number, hold.symbols), in_line(hold.head, number, hold.symbols)
        length = lengths.length_of(placing, hold, label, text) or lengths.across(placing, hold, label, text)
        if length is not None:
            (by_hand.append(lengths.by_hand(placing, length)) if label.at is not None else sized.append(length))
            continue
        slant = slanted(placing, hold, box)
        places = (slant.middle,) if slant is not None else tuple(leaders.pointable(placing, hold))
        lines = leaders.straight_lines(placing, hold) if hold.is_sign else ()
        out = placing.ways(hold.normal) if lines and hold.normal is not None else None
        if lines:
            places = leaders.standing_places(lines, sum(f == hold.faces[0] for f in stood))
            stood.append(hold.faces[0])
        if not places:
            continue
        if label.at is not None:
            by_hand.append(leaders.by_hand(placing, Leader(label, block, places, places[0], slant, lines, out)))
        else:
            led.append(Leader(label, block, places, leaders.kept_tip(placing, label, places), slant, lines, out))
    laid = lengths.beside(sized, box, running)
    taken = [w.box for w in (*laid, *by_hand)]
    columns = leaders.in_columns(placing, led, box, laid, taken)
    laid = lengths.beside(sized, box, running, leaders.lines_of([*columns, *by_hand]), laid)
    return [*by_hand, *laid, *columns]
