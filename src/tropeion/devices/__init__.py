"""Cameras at a socket: the protocol, a simulated body that speaks it, and the line to whatever does."""
