"""Set-up sequences that somebody found: read in any of the usual spellings, told in words, compared, and taken over."""
