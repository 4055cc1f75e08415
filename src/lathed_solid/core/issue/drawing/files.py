"""The files that drawing sheets go into, by their endings."""

#: Ending to what a button says.
FILES = {"pdf": "PDF, all sheets", "dxf": "DXF", "svg": "SVG", "png": "PNG"}
