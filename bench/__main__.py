"""Runs the benchmarks and prints one row a figure: name, ours, reference, ratio, unit."""

from __future__ import annotations

import json
import sys

from . import (
    family,
    features,
    fit,
    issue,
    mutants,
    nominal,
    plate,
    prove,
    read,
    rebuild,
    sketch,
    stability,
    start,
    view,
    why,
)
from .row import Row

BENCHES = {
    "rebuild": rebuild.run,
    "features": features.run,
    "family": family.run,
    "solver": sketch.run,
    "plate": plate.run,
    "prove": prove.run,
    "start": start.run,
    "view": view.run,
    "nominal": nominal.run,
    "stability": stability.run,
    "why": why.run,
    "mutants": mutants.run,
    "fit": fit.run,
    "issue": issue.run,
    "read": read.run,
}


def main() -> int:
    arguments = [a for a in sys.argv[1:] if a != "--json"]
    unknown = [a for a in arguments if a not in BENCHES]
    if unknown:
        print(f"No bench called {', '.join(unknown)}. There are: {', '.join(BENCHES)}.", file=sys.stderr)
        return 2
    rows: list[Row] = []
    failed = False
    for name in arguments or BENCHES:
        try:
            found = BENCHES[name]()
        except Exception as error:  # one bench that cannot run keeps none of the others from it
            print(f"{name}: {error}", file=sys.stderr)
            failed = True
            continue
        rows += found
        if "--json" not in sys.argv:
            for row in found:
                print(row.line(), flush=True)
    if "--json" in sys.argv:
        print(json.dumps([row._asdict() for row in rows], indent=1))
    return int(failed)


if __name__ == "__main__":
    sys.exit(main())
