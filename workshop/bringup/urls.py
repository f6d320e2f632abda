"""Addresses of station 2, under a build's."""

from django.urls import path

from workshop.bringup import card_views, drill_views, fault_views, stage_views, virtual_views

urlpatterns = [
    path("", stage_views.stages, name="bringup-stages"),
    path("stages/<slug:slug>/", stage_views.keep, name="bringup-keep"),
    path("still/<slug:shows>/<slug:key>.png", stage_views.still, name="bringup-still"),
    path("virtual/", virtual_views.virtual, name="bringup-virtual"),
    path("film/<slug:key>/<int:number>.png", virtual_views.film_picture, name="bringup-film"),
    path("cards/", card_views.cards, name="bringup-cards"),
    path("cards/<slug:slug>/", card_views.cards, name="bringup-card"),
    path("cards/<slug:slug>/offset/", card_views.set_offset, name="bringup-offset"),
    path("cards/<slug:slug>/<slug:key>.png", card_views.card_png, name="bringup-card-png"),
    path("cards/<slug:slug>/file.<str:ending>", card_views.take, name="bringup-card-file"),
    path("faults/", fault_views.faults, name="bringup-faults"),
    path("faults/alike/", fault_views.alike, name="bringup-alike"),
    path("faults/right/<slug:key>.png", fault_views.right, name="bringup-right"),
    path("faults/<str:name>/mend/", fault_views.mend, name="bringup-mend"),
    path("faults/<str:name>/note/", fault_views.note, name="bringup-note"),
    path("faults/<str:name>/<slug:key>.png", fault_views.rendering, name="bringup-rendering"),
    path("questions/", fault_views.questions, name="bringup-questions"),
    path("drills/", drill_views.drills, name="bringup-drills"),
    path("drills/answer/", drill_views.answer, name="bringup-answer"),
    path("drills/forget/", drill_views.forget, name="bringup-forget"),
    path("drills/<slug:which>/<slug:key>.png", drill_views.drill_png, name="bringup-drill-png"),
]
