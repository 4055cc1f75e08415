"""Lathed Solid: the drawing's own numbers drive the solid, and the solid is measured back against them."""

__version__ = "0.1.0"
