"""The stations in order of work: the rail that leads to them, and what each lays around the desk."""
