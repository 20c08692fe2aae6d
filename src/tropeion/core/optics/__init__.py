"""Lengths, focus, coverage, and what a combination becomes."""
