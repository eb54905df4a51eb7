"""The WSGI application that gunicorn serves."""

import os
import threading

from django.core.wsgi import get_wsgi_application

from speedchain.placement.field import warm

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "wheelometron.settings")
application = get_wsgi_application()
threading.Thread(target=warm, daemon=True).start()
