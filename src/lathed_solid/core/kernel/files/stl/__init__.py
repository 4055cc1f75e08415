"""Meshes of other programs: their triangles, the faces found again in them, and the solid those make."""
