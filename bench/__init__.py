"""Benchmarks: ratios against bare kernel or bare SciPy runs in one process: ``python -m bench [NAME] [--json]``."""
