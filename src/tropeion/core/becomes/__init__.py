"""What a combination becomes: in tables over bodies and lenses, and back from a wish to a rig."""
