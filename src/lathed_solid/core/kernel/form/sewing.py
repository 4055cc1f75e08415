"""Faces that meet at their edges, sewn to a solid."""

from __future__ import annotations

from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing
from OCP.ShapeFix import ShapeFix_Solid
from OCP.TopAbs import TopAbs_ShapeEnum
from OCP.TopoDS import TopoDS

from ..ground.check import KernelFailure
from ..ground.named import NamedBody, Pair
from ..ground.topology import subshapes
from .sweep import positive


def sewn(faces: list[Pair]) -> NamedBody:
    """One solid with the faces' names; their sense is mended. Raises KernelFailure when they do not close."""
    sewing = BRepBuilderAPI_Sewing(1e-5)
    for face, _ in faces:
        sewing.Add(face)
    sewing.Perform()
    shells = subshapes(sewing.SewedShape(), TopAbs_ShapeEnum.TopAbs_SHELL)
    if len(shells) != 1:
        raise KernelFailure("The faces do not close to a solid.")
    solid = ShapeFix_Solid().SolidFromShell(TopoDS.Shell(shells[0]))
    return positive(NamedBody(solid, [(sewing.Modified(f) if sewing.IsModified(f) else f, n) for f, n in faces]))
