"""Entry point for gunicorn."""

import os

from django.core.wsgi import get_wsgi_application

from foreign.apart import begin

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
application = get_wsgi_application()
begin()  # so that the first file of the day waits for nothing
