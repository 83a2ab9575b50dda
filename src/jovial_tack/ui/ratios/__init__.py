"""Rev plan, boost, map, underdrive."""
