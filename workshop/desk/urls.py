"""Addresses of the field desk."""

from django.urls import path

from workshop.desk import views

urlpatterns = [
    path("desk/", views.desk, name="desk"),
    path("desk/<slug:slug>/", views.calculator, name="calculator"),
    path("desk/<slug:slug>/hand-over/", views.hand_over, name="hand-figures-over"),
]
