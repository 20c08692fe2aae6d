"""The API: one module for each resource, no rules of its own."""
