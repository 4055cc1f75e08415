"""Solids changed by others, by their edges or by their faces."""
