"""Bought parts as ordinary jobs, with their names and callouts."""
