"""Measuring at the bench: instruments, captured readings, what was meant, conversions, the logbook."""
