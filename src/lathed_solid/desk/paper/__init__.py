"""A drawing sheet on its paper, of a part or of an assembly: shown, pointed at, changed; nothing knows of which."""
