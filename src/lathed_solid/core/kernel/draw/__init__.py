"""Drawing a solid: which of its edges are seen from where, which faces they belong to, and what a cut lays open."""
