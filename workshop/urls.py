"""Addresses."""

from django.urls import include, path

from workshop.builds import check_views, new_views, panel_views, setup_views, views, wiring_views
from workshop.lettering import face_views
from workshop.pictures import recipe_views

urlpatterns = [
    path("", views.workshop, name="workshop"),
    path("", include("workshop.accounts.urls")),
    path("", include("workshop.panels.urls")),
    path("builds/new/", new_views.new_build, name="new-build"),
    path("builds/new/shelf/", new_views.shelf_part, name="new-shelf"),
    path("builds/drop/", views.drop, name="drop"),
    path("builds/<int:build_id>/", views.open_build, name="build"),
    path("builds/<int:build_id>/sheet/", views.sheet, name="sheet"),
    path("builds/<int:build_id>/fix/", views.fix_build, name="fix-build"),
    path("builds/<int:build_id>/remove/", views.delete_build, name="delete-build"),
    path("builds/<int:build_id>/panel/", panel_views.panel, name="build-panel"),
    path("builds/<int:build_id>/panel/turned/", panel_views.turned, name="build-turned"),
    path("builds/<int:build_id>/panel/screen/<slug:key>.png", panel_views.screen, name="build-screen"),
    path("builds/<int:build_id>/panel/lay/", panel_views.lay, name="lay-build"),
    path("builds/<int:build_id>/panel/exchange/", panel_views.exchange, name="exchange-parts"),
    path("builds/<int:build_id>/panel/take-over/", panel_views.take_over, name="take-over"),
    path("builds/<int:build_id>/wiring/", wiring_views.wiring, name="wiring"),
    path("builds/<int:build_id>/wiring/propose/", wiring_views.propose_anew, name="propose-wiring"),
    path("builds/<int:build_id>/wiring/check/", check_views.check_sheet, name="check-sheet"),
    path("builds/<int:build_id>/wiring/card/", check_views.card, name="wiring-card"),
    path("builds/<int:build_id>/wiring/card.csv", check_views.card_csv, name="wiring-csv"),
    path("builds/<int:build_id>/wiring/panel_pins.h", wiring_views.source, {"ending": "h"}, name="pins-h"),
    path("builds/<int:build_id>/wiring/panel_pins.py", wiring_views.source, {"ending": "py"}, name="pins-py"),
    path("builds/<int:build_id>/setup/", setup_views.setup, name="setup"),
    path("builds/<int:build_id>/setup/copy/", setup_views.copy_setup, name="copy-setup"),
    path("builds/<int:build_id>/mounting/", panel_views.mounting, name="mounting"),
    path("builds/<int:build_id>/mounting/print/", panel_views.mounting_print, name="mounting-print"),
    path("builds/<int:build_id>/mounting/template.svg", panel_views.mounting_svg, {"kind": "template"}, name="mounting-template"),
    path("builds/<int:build_id>/mounting/cut-out.svg", panel_views.mounting_svg, {"kind": "cut-out"}, name="mounting-cut-out"),
    path("builds/<int:build_id>/bring-up/", include("workshop.bringup.urls")),
    path("builds/<int:build_id>/pictures/", include("workshop.pictures.urls")),
    path("builds/<int:build_id>/lettering/", include("workshop.lettering.urls")),
    path("faces/<slug:slug>/licence.txt", face_views.licence, name="face-licence"),
    path("recipes/<int:recipe_id>.json", recipe_views.take_saved, name="take-saved"),
    path("", include("workshop.jobs.urls")),
]
handler400 = "workshop.accounts.views.not_taken"
handler404 = "workshop.accounts.views.not_found"
