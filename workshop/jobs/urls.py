"""Addresses of long work."""

from django.urls import path

from workshop.jobs import views

urlpatterns = [
    path("jobs/<int:job_id>/", views.progress, name="job"),
    path("jobs/<int:job_id>/cancel/", views.cancel, name="cancel-job"),
    path("jobs/<int:job_id>/take/", views.take, name="take-job"),
]
