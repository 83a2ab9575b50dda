"""One build solved: cases, states, results, findings."""
