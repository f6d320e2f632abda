"""Addresses."""

from django.urls import include, path

from workshop.builds import views

urlpatterns = [
    path("", views.workshop, name="workshop"),
    path("", include("workshop.accounts.urls")),
    path("builds/new/", views.new_build, name="new-build"),
    path("builds/drop/", views.drop, name="drop"),
    path("builds/<int:build_id>/", views.open_build, name="build"),
    path("builds/<int:build_id>/sheet/", views.sheet, name="sheet"),
    path("builds/<int:build_id>/fix/", views.fix_build, name="fix-build"),
    path("builds/<int:build_id>/remove/", views.delete_build, name="delete-build"),
    path("builds/<int:build_id>/pictures/", include("workshop.pictures.urls")),
    path("", include("workshop.jobs.urls")),
]
handler404 = "workshop.accounts.views.not_found"
