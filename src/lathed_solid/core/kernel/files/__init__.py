"""Solids written for other programs, and read from them."""
