"""Drawings under the glass: sheets that can be looked at, what can be read off them, and whether it is complete."""
