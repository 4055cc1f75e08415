"""Brings a sketch to its numbers: rows, their linear algebra, guarded steps, dragging."""
