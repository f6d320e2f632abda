"""Addresses of station 1, below a build's."""

from django.urls import path

from workshop.panelwork import check_views, panel_views, setup_card_views, wiring_views

urlpatterns = [
    path("panel/", panel_views.panel, name="build-panel"),
    path("panel/turned/", panel_views.turned, name="build-turned"),
    path("panel/screen/<slug:key>.png", panel_views.screen, name="build-screen"),
    path("panel/lay/", panel_views.lay, name="lay-build"),
    path("panel/exchange/", panel_views.exchange, name="exchange-parts"),
    path("exchange/<int:exchange_id>/undo/", panel_views.undo_exchange, name="undo-exchange"),
    path("panel/take-over/", panel_views.take_over, name="take-over"),
    path("wiring/", wiring_views.wiring, name="wiring"),
    path("wiring/propose/", wiring_views.propose_anew, name="propose-wiring"),
    path("wiring/check/", check_views.check_sheet, name="check-sheet"),
    path("wiring/card/", check_views.card, name="wiring-card"),
    path("wiring/card.csv", check_views.card_csv, name="wiring-csv"),
    path("wiring/panel_pins.h", wiring_views.source, {"ending": "h"}, name="pins-h"),
    path("wiring/panel_pins.py", wiring_views.source, {"ending": "py"}, name="pins-py"),
    path("setup-card/", setup_card_views.setup_card, name="setup-card"),
    path("setup-card/copy/", setup_card_views.copy_setup_card, name="copy-setup-card"),
    path("mounting/", panel_views.mounting, name="mounting"),
    path("mounting/print/", panel_views.mounting_print, name="mounting-print"),
    path("mounting/template.svg", panel_views.mounting_svg, {"kind": "template"}, name="mounting-template"),
    path("mounting/cut-out.svg", panel_views.mounting_svg, {"kind": "cut-out"}, name="mounting-cut-out"),
]
