"""Many spring-arm drives of one route solved at once (docs/METHOD.md, section 8, "Finder")."""
