"""Addresses of panels, comparisons and boards."""

from django.urls import path

from workshop.panels import board_views, choose_views, identify_views, views

urlpatterns = [
    path("panels/", views.shelf, name="panels"),
    path("panels/read/", views.read, name="read-passport"),
    path("panels/identify/", identify_views.identify, name="identify"),
    path("panels/choose/", choose_views.comparisons, name="comparisons"),
    path("panels/choose/start/", choose_views.start, name="start-comparison"),
    path("panels/choose/<int:comparison_id>/", choose_views.comparison, name="comparison"),
    path("panels/choose/<int:comparison_id>/take-out/", choose_views.take_out, name="take-out-panel"),
    path("panels/choose/<int:comparison_id>/remove/", choose_views.remove_comparison, name="remove-comparison"),
    path("panels/<slug:ref>/", views.passport, name="panel"),
    path("panels/<slug:ref>/turned/", views.turned, name="panel-turned"),
    path("panels/<slug:ref>/screen/<slug:key>.png", views.screen, name="panel-screen"),
    path("panels/<slug:ref>/passport.json", views.passport_json, name="passport-json"),
    path("panels/<slug:ref>/mine/", views.make_mine, name="make-mine"),
    path("panels/<slug:ref>/edit/", views.edit, name="panel-edit"),
    path("panels/<slug:ref>/edit/text/", views.edit_text, name="panel-edit-text"),
    path("panels/<slug:ref>/remove/", views.remove, name="remove-panel"),
    path("boards/", board_views.boards, name="boards"),
    path("boards/<slug:ref>/", board_views.board, name="board"),
    path("boards/<slug:ref>/mine/", board_views.make_board_mine, name="make-board-mine"),
    path("boards/<slug:ref>/edit/", board_views.edit_board, name="board-edit"),
    path("boards/<slug:ref>/board.json", board_views.board_json, name="board-json"),
    path("boards/<slug:ref>/remove/", board_views.remove_board, name="remove-board"),
]
