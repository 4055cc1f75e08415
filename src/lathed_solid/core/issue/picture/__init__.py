"""Rendered pictures of a part or an assembly: finishes, light, camera, and the rays that make them."""
