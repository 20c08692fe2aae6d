"""One rig, judged: from its pieces to its report."""
