"""DXF files that are the same bytes whenever they are written: neither dates nor ids of their own."""

from __future__ import annotations

import io
from collections.abc import Callable

import ezdxf
from ezdxf.document import Drawing


def same_bytes(make: Callable[[], Drawing]) -> bytes:
    """The document that ``make`` puts together, as a file."""
    options = ezdxf.options  # type: ignore[attr-defined]
    before, options.write_fixed_meta_data_for_testing = options.write_fixed_meta_data_for_testing, True
    try:
        out = io.StringIO()
        make().write(out)
        return out.getvalue().encode("utf-8")
    finally:
        options.write_fixed_meta_data_for_testing = before
