"""Bytes to the core and back."""
