"""What exists: mounts, bodies, lenses, adapters, and the collection that holds them."""
