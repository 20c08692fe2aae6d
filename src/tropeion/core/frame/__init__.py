"""The simulated frame: scenes of geometry, what a rig would record of them, and the numbers beside it."""
