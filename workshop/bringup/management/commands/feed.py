"""`manage.py feed`: listens for programs that draw on virtual panels, on loopback only."""

import signal
import threading

from django.conf import settings
from django.core.management.base import BaseCommand

from workshop.bringup.feed_server import FeedServer
from workshop.bringup.models import Feed


class Command(BaseCommand):
    help = "Listen for live feeds."

    def handle(self, *args, **options) -> None:
        Feed.objects.exclude(session="").update(session="")  # whoever was there is gone with the old server
        server = FeedServer(settings.FEED_PORT)
        for sign in (signal.SIGTERM, signal.SIGINT):
            signal.signal(sign, lambda *_: threading.Thread(target=server.stop).start())
        server.serve_forever(poll_interval=0.2)
