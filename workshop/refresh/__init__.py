"""Station 6, Refresh plan: how fast a build draws and sends, and with which buffer and link."""
