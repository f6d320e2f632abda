"""A whole build as files for its program: sources, a manifest, and the proof that they are right."""
