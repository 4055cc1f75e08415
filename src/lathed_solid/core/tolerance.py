"""The named closeness limits of the whole program, so that no module invents its own."""

#: A sketch is solved when no relation is further off than this (mm).
SOLVED = 1e-10
#: Ends of sketch lines further apart than this leave an outline open (mm).
CLOSED = 1e-6
#: Deflection of the picture's triangles from the true face (mm) and between facets (radians).
MESH_LINEAR = 0.05
MESH_ANGULAR = 0.25
#: A measured size this close to a limit counts as lying on the limit (mm or radians).
ON_LIMIT = 1e-6
#: Faces narrower than this are not meant (mm): no drawing states a micrometre.
SLIVER = 1e-3
