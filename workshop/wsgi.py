"""The entry point of web servers."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "workshop.settings")
application = get_wsgi_application()
