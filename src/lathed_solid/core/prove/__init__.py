"""Proving: the finished boundary measured back against every callout, and mass against the stated figures."""
