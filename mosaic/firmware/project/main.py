# Yours: this file is written once and never again. What counts are app.begin once, and app.go_round at least every 20 ms.
import app
import board


def event(code):
    """An event of the behaviour has come about; behaviour.py has their names."""


device = app.begin(board, event)
while True:
    app.go_round(device)
    board.delay(5)
