"""Files shipped with the application: catalogue, demo builds, fonts."""
