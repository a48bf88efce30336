"""The API, and one page for everything else: the screens route themselves."""

from django.urls import path, re_path

from . import views
from .api import api

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^api/[\s\S]*$", views.no_such_api),
    re_path(r"^(?!static/)[\s\S]*$", views.page),
]

handler500 = views.stumbled
