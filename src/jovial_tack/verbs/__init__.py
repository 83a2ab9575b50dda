"""The verbs of the command line, a module a matter; each imports what it needs when it is called."""
