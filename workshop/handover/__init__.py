"""Station 7: the files of a build, the proof that they are right, and frames for its device."""
