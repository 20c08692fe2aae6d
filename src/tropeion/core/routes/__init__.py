"""Chains of adapters between a lens and a body: found, bounded, judged, ordered."""
