"""What goes over the line: the shapes of what windows send and are answered with (server/openapi.json is made
of them)."""
