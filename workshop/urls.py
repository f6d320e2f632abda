"""Addresses. Those of stations lie below a build's."""

from django.urls import include, path

from workshop.log.book_views import shared_book
from workshop.removal import bring_back
from workshop.stations import stations

urlpatterns = [
    path("", include("workshop.accounts.urls")),
    path("", include("workshop.panels.urls")),
    path("", include("workshop.home.urls")),
    path("", include("workshop.desk.urls")),
    path("", include("workshop.jobs.urls")),
    path("book/<str:token>/", shared_book, name="shared-book"),
    path("deleted/<str:label>/<int:pk>/bring-back/", bring_back, name="bring-back"),
    path("builds/<int:build_id>/", include("workshop.stations.urls")),
    *(path("builds/<int:build_id>/", include(station.urls)) for station in stations()),
]
handler400 = "workshop.accounts.views.not_taken"
handler500 = "workshop.faults.fault"
handler404 = "workshop.accounts.views.not_found"
