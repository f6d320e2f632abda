"""Addresses of the made-up station."""

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import path

from workshop.builds.pages import own_build
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def page(request, build_id: int, document_id: int = 0) -> HttpResponse:
    return render(request, "stations/base_build.html", frame_context(overview_of(own_build(request, build_id)), "buoys"))


urlpatterns = [path("buoys/", page, name="buoys"), path("buoys/<int:document_id>/", page, name="buoy")]
