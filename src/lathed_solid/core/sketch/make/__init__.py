"""New geometry: single elements, whole shapes, relations and dimensions for what is chosen."""
