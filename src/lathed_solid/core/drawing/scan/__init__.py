"""Drawings that are only pictures: where text stands on them, what it says, and how sure that is.

Everything here that opens a picture needs the optional extra (see :mod:`needs`) and runs in a process of its own; what
judges the readings (:mod:`judging`, :mod:`repairing`) needs nothing.
"""
