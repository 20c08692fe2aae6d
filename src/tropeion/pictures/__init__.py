"""Picture files on the disk: found, read in a process of their own, indexed; sidecars written beside them."""
