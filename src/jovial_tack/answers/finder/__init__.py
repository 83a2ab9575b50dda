"""The best of all that can be bolted on (docs/METHOD.md, section 8, "Finder")."""
