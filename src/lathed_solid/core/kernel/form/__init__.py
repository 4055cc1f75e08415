"""Solids and skins made from outlines."""
