"""Addresses of station 5, below those of a build."""

from django.urls import path, re_path

from workshop.screens import code_views, design_views, panel_views, play_views, state_views, value_views, views

urlpatterns = [
    path("screens/", views.screens, name="screens"),
    path("screens/add/", views.add, name="add-screen"),
    path("screens/values/", value_views.values, name="values"),
    path("screens/values/add/", value_views.add, name="add-value"),
    path("screens/values/<slug:ident>/change/", value_views.change, name="change-value"),
    path("screens/values/<slug:ident>/remove/", value_views.remove, name="remove-value"),
    path("screens/design/", design_views.design, name="design"),
    path("screens/design/change/", design_views.change, name="change-design"),
    path("screens/design/<slug:part>/<slug:key>.png", design_views.part_png, name="part-png"),
    path("screens/<int:screen_id>/", views.screen, name="screen"),
    path("screens/<int:screen_id>/preview/", views.preview, name="preview-screen"),
    path("screens/<int:screen_id>/change/", views.change, name="change-screen"),
    path("screens/<int:screen_id>/take-made/", views.take_made, name="take-into-screen"),
    path("screens/<int:screen_id>/act/", views.act, name="act-screen"),
    path("screens/<int:screen_id>/fix/", views.fix, name="fix-screen"),
    path("screens/<int:screen_id>/copy/", views.copy_to_other, name="copy-elements"),
    path("screens/<int:screen_id>/part/", design_views.make_part, name="make-part"),
    re_path(r"^screens/(?P<screen_id>\d+)/(?P<direction>undo|redo)/$", views.step, name="step-screen"),
    path("screens/<int:screen_id>/glass/<slug:key>.png", views.glass, name="screen-glass"),
    path("screens/read-code/", code_views.read, name="read-code"),
    path("screens/read-code/make/", code_views.make, name="make-of-code"),
    path("screens/another-panel/", panel_views.another, name="another-panel"),
    path("screens/another-panel/keep/", panel_views.keep, name="keep-on-panel"),
    path("screens/another-panel/<slug:panel>/<slug:lengths>/<int:screen_id>.png", panel_views.picture, name="panel-png"),
    path("screens/file-of-screens/", views.take_bundle, name="take-bundle"),
    path("screens/sheet/", state_views.sheet, name="states-sheet"),
    path("screens/<int:screen_id>/states/", state_views.states, name="states"),
    path("screens/<int:screen_id>/states/change/", state_views.change_states, name="change-states"),
    path("screens/<int:screen_id>/play/", play_views.play, name="play"),
    path("screens/<int:screen_id>/play/run/", play_views.run, name="play-run"),
    path("screens/<int:screen_id>/play/live/", play_views.live, name="play-live"),
    path("screens/<int:screen_id>/keep-moment/", state_views.keep_moment, name="keep-moment"),
    path("screens/<int:screen_id>/states/<slug:key>.png", views.states, name="screen-states"),
    re_path(r"^screens/(?P<screen_id>\d+)/take/(?P<ending>[a-z]+)/$", views.take, name="take-screen"),
]
