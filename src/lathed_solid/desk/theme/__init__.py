"""Colours, fonts and icons, light and dark."""
