"""The files that solids are read from, by their endings."""

#: STEP, BREP and IGES hold faces; STL and 3MF hold triangles, in which the faces are found again.
ENDINGS = (".step", ".stp", ".brep", ".brp", ".iges", ".igs", ".stl", ".3mf")
#: As a file dialog wants them.
PATTERN = " ".join(f"*{ending}" for ending in ENDINGS)
