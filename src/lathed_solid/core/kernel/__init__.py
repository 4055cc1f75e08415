"""The only door to the modelling kernel (OCCT through the OCP binding).

Plain functions over :class:`ground.named.NamedBody`. Nothing here knows callouts, sketches or jobs. Importing any module
of these rooms loads the kernel library (one to two seconds), so callers import them where they are used.
"""
