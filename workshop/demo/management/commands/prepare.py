"""`manage.py prepare`: everything between an installed program and a served page, in one process."""

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand

from mosaic.warm import warm
from workshop.demo.services import load_demo


class Command(BaseCommand):
    help = "Migrate, collect static files where they changed, compile kernels, load the demo once."

    def add_arguments(self, parser) -> None:
        parser.add_argument("--fresh-demo", action="store_true", help="lay the demo out anew")
        parser.add_argument("--static", action="store_true", help="collect static files")

    def handle(self, *args, **options) -> None:
        call_command("migrate", interactive=False, verbosity=0)
        if options["static"]:
            call_command("collectstatic", interactive=False, verbosity=0)
        warm()
        if settings.OFFER_DEMO and load_demo(fresh=options["fresh_demo"]):
            self.stdout.write("The Saltmarsh Boathouse was laid out.")
