"""The whole way from a source picture to proven bytes, stage by stage.

Each stage is a pure function of what it is handed, so that a caller may keep any stage's
result and begin again from there when only a later setting changes.
"""
