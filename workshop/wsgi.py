"""The entry point of web servers."""

import os

from django.core.wsgi import get_wsgi_application

from mosaic.lettering.faces import read_all

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
application = get_wsgi_application()
# Before the server divides into processes: they share what was read.
read_all()
