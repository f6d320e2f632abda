"""Addresses of station 6, below those of a build."""

from django.urls import path

from workshop.refresh import views

urlpatterns = [
    path("refresh/", views.speed, name="refresh"),
    path("refresh/buffers/", views.buffers, name="buffers"),
    path("refresh/links/", views.links, name="links"),
    path("refresh/take/", views.take, name="take-plan"),
]
