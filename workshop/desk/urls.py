"""Addresses of the field desk."""

from django.urls import path

from workshop.desk import guide_views, views

urlpatterns = [
    path("desk/", views.desk, name="desk"),
    path("desk/<slug:slug>/", views.calculator, name="calculator"),
    path("desk/<slug:slug>/hand-over/", views.hand_over, name="hand-figures-over"),
    path("guide/", guide_views.guide, name="guide"),
    path("guide/words/", guide_views.words, name="glossary"),
    path("guide/<slug:slug>/", guide_views.article, name="article"),
]
