"""How fast a build draws and sends, what it needs for that, and what is sent when."""
