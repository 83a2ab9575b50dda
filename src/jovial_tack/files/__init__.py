"""Files in and out; no Qt here."""
