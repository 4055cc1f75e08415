"""The only door to the modelling kernel (OCCT through the OCP binding).

Plain functions over :class:`ground.named.NamedBody`. Nothing here knows callouts, sketches or jobs. Nearly every module
loads the kernel library when it is imported (one to two seconds), so callers import them where they are used.
"""
