"""The application as gunicorn serves it."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "jungoptic.web.settings")
application = get_wsgi_application()

# What is loaded now stays until the end: the collector need not look at it again at every turn.
gc.collect()
gc.freeze()
