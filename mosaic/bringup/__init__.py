"""Bringing a device up: what to send, see and measure, stage by stage, for this very build."""
