"""A callout printed back as one normalised drawing note, which reads as the same callout again."""

from __future__ import annotations

from collections.abc import Iterator

from .model import Characteristic, Reading

_PREFIX = {"diameter": "Ø", "radius": "R"}


def normal_note(reading: Reading) -> str:
    """The note in drafting symbols, items in a fixed order, every size as it was written."""
    text = " ".join(_items(reading))
    return f"({text})" if "REF" in reading.flags else text


def _items(reading: Reading) -> Iterator[str]:
    if count := reading.get("count"):
        yield f"{count.written}x"
    if reading.shape != "surface":
        yield _main(reading)
    flags = [f for f in reading.flags if f not in ("REF", "BASIC", "SPOTFACE", "ALL", "ACROSS BORE")]
    if reading.thru:
        yield "THRU ALL" if "ALL" in reading.flags else "THRU"
    if (depth := reading.get("depth")) and reading.shape not in ("keyway", "undercut"):
        yield f"↧ {_sized(depth)}"
    if reading.percent is not None:
        yield f"{reading.percent:g}% THREAD"
    yield from _drill(reading)
    yield from _seat(reading)
    yield from _places(reading)
    if tip := reading.get("tip"):
        yield f"TIP {_sized(tip)}"
    yield from flags
    if "ALL" in reading.flags and not reading.thru:
        yield "ALL"
    for c in reading.characteristics:
        if c.kind in ("finish", "geometric"):
            yield c.written


def _sized(c: Characteristic) -> str:
    if c.tolerance == "BASIC":
        return f"[{c.written}]"
    return f"{c.written} {c.tolerance}".rstrip()


def _main(reading: Reading) -> str:
    special = {
        "chamfer": _chamfer, "taper": _taper, "keyway": _keyway, "sphere": _sphere, "groove": _groove,
        "undercut": _undercut,
    }  # fmt: skip
    return special.get(reading.shape, _plain)(reading)


def _plain(reading: Reading) -> str:
    main = reading.main
    if reading.clears:
        return f"CLEARANCE {reading.clears}"
    if main.written.startswith(("NO.", "LETTER")):
        return f"DRILL {main.written}"
    hexagon = "HEX " if reading.hexagon else ""
    own = {"square": "□ ", "flats": f"{hexagon}A/F ", "corners": f"{hexagon}A/C "}
    prefix = own.get(reading.shape, _PREFIX.get(main.kind, ""))
    text = prefix + _sized(main)
    if reading.shape == "length" and "ACROSS BORE" in reading.flags:
        return f"{text} ACROSS BORE"
    return text


def _sphere(reading: Reading) -> str:
    return ("SØ" if reading.main.kind == "diameter" else "SR") + _sized(reading.main)


def _groove(reading: Reading) -> str:
    width = reading.get("length")
    assert width is not None
    return f"GROOVE Ø{_sized(reading.main)} x {_sized(width)} WIDE"


def _undercut(reading: Reading) -> str:
    depth = reading.get("depth")
    assert depth is not None
    return f"UNDERCUT {_sized(reading.main)} x {_sized(depth)} DEEP"


def _chamfer(reading: Reading) -> str:
    if leg := reading.get("leg2"):
        return f"CHAM {_sized(reading.main)} x {_sized(leg)}"
    angle = reading.get("angle")
    assert angle is not None
    return f"CHAM {_sized(reading.main)} x {_sized(angle)}"


def _taper(reading: Reading) -> str:
    small, length = reading.get("small"), reading.get("length")
    if small is not None and length is not None:
        return f"TAPER Ø{_sized(reading.main)} TO Ø{_sized(small)} OVER {_sized(length)}"
    return f"TAPER {_sized(reading.main)}"


def _keyway(reading: Reading) -> str:
    text = f"KEYWAY {_sized(reading.main)}"
    if across := reading.get("across"):
        return f"{text} x {_sized(across)} ACROSS"
    depth = reading.get("depth")
    return f"{text} x {_sized(depth)} DEEP" if depth else text


def _drill(reading: Reading) -> Iterator[str]:
    drill, depth = reading.get("drill"), reading.get("drill_depth")
    if drill is not None:
        named = drill.written.startswith(("NO.", "LETTER"))
        yield f"DRILL {drill.written}" if named else f"DRILL Ø{_sized(drill)}"
        if depth is not None:
            yield f"x {_sized(depth)} DEEP"


def _seat(reading: Reading) -> Iterator[str]:
    if not reading.seat:
        return
    counterbored = reading.seat == "counterbore"
    if reading.seat_for:
        yield f"CBORE FOR {reading.seat_for}" if counterbored else f"CSK FOR {reading.seat_for}"
        return
    word = "SPOTFACE" if "SPOTFACE" in reading.flags else "⌴" if counterbored else "⌵"
    seat = reading.get("seat")
    far = reading.get("seat_depth") if counterbored else reading.get("seat_angle")
    if seat is None:
        assert far is not None
        yield f"{word} {_sized(far)}"
        return
    yield f"{word} Ø{_sized(seat)}"
    if far is not None:
        yield f"x {_sized(far)}" + (" DEEP" if counterbored else "")


def _places(reading: Reading) -> Iterator[str]:
    if circle := reading.get("circle"):
        yield f"ON Ø{_sized(circle)}"
    if at := reading.get("at"):
        yield f"AT {_sized(at)}"
    x, y = reading.get("x"), reading.get("y")
    if x and y:
        yield f"AT {_sized(x)}, {_sized(y)}"
    if (angle := reading.get("angle")) and reading.shape != "chamfer":
        yield f"FIRST AT {_sized(angle)}"
