"""Bringing rows of residuals to zero: for sketches in the plane, and for whatever else states its rows so."""
