"""`manage.py lines`: stands in for serial panels, on loopback and on pseudo terminals of this machine only."""

import signal
import threading

from django.conf import settings
from django.core.management.base import BaseCommand

from workshop.screens.models import SerialLine
from workshop.screens.serial.server import LineServer


class Command(BaseCommand):
    help = "Stand in for serial panels."

    def handle(self, *args, **options) -> None:
        SerialLine.objects.exclude(session="", terminal="").update(session="", terminal="")  # who was there is gone
        server = LineServer(settings.LINE_PORT)
        for sign in (signal.SIGTERM, signal.SIGINT):
            signal.signal(sign, lambda *_: threading.Thread(target=server.stop).start())
        server.run()
