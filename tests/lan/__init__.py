"""The listener in one's own network, part by part."""
