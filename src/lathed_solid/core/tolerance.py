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
#: Places nearer to each other than this are one, and faces nearer lie in one plane or on one axis (mm): far below any
#: size that is made, far above what the solver and the kernel leave over.
ONE_PLACE = 1e-6
#: Directions whose cosine is this near to one run the same way (4e-5 radians; over 100 mm 0.004 mm).
PARALLEL = 1e-9
#: Directions whose cosine is this near to zero or one are taken as square or level where something is built on it.
LEVEL = 1e-7
