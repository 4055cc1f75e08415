"""The kernel process: it builds, proves, meshes and exports, so that the window never waits and never falls."""
