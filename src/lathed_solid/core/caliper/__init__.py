"""Measuring by hand: instruments and their lines, readings and their uncertainty, what size was meant."""
