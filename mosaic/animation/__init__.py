"""Moving pictures: frames of files, reduced so that nothing crawls, sent as the windows that change."""
