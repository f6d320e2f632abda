"""Reading foreign files: pictures of every usual kind, and arrays out of source text."""
