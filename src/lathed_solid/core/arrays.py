"""The array types of the whole core."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
#: Grey pictures and masks of ink.
Bytes = NDArray[np.uint8]
Ints = NDArray[np.intp]
Truths = NDArray[np.bool_]
