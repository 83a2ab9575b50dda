"""Cards beside the desk that are called up and put away; each has a title, a hint and a Close."""
