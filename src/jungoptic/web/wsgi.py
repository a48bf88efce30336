"""The application as gunicorn serves it."""

import gc
import os
from importlib import import_module

from django.conf import settings
from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jungoptic.web.settings")
application = get_wsgi_application()
# The addresses, and with them the whole application: workers share what is loaded before they part.
import_module(settings.ROOT_URLCONF)

# What is loaded now stays until the end: the collector need not look at it again at every turn.
gc.collect()
gc.freeze()
# Reading a thousand rows makes some hundred thousand objects, none of them in a circle: looked at
# seldom, the collector takes a tenth of the time that it would.
gc.set_threshold(50_000, 20, 20)
