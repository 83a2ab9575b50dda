"""One drive: path, adjuster, loads, tension and grip; and drives joined by shafts."""
