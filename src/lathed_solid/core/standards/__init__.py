"""Figures from standards: fits, general tolerances, threads, materials. Data files and look-ups only."""
