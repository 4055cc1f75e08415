"""Sketches: geometry, relations and dimensions, the solver behind them, and the turned profile."""
