"""Lathed Solid: the drawing's own numbers drive the solid, and the solid is measured back against them."""

import os

__version__ = "0.1.0"

# More BLAS threads make the small systems of a sketch many times slower. Must be set before NumPy is imported.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
