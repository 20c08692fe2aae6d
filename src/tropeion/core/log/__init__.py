"""What was used, and the pictures told so: the log, its clocks, and which entry a picture belongs to."""
