"""Addresses of the Pictures station, below a build's."""

from django.urls import path, re_path

from workshop.pictures import views

urlpatterns = [
    path("", views.pictures, name="pictures"),
    path("add/", views.add, name="add-picture"),
    path("<int:picture_id>/", views.picture, name="picture"),
    path("<int:picture_id>/preview/", views.preview, name="preview"),
    path("<int:picture_id>/save/", views.save, name="save-recipe"),
    re_path(r"^(?P<picture_id>\d+)/(?P<direction>undo|redo)/$", views.step, name="step"),
    path("<int:picture_id>/fix/", views.fix, name="fix-picture"),
    path("<int:picture_id>/touch/", views.touch, name="touch-picture"),
    path("<int:picture_id>/region/", views.region, name="region"),
    path("<int:picture_id>/rename/", views.rename, name="rename-picture"),
    path("<int:picture_id>/take-out/", views.take_out, name="take-out"),
    path("<int:picture_id>/glass/<str:key>.png", views.glass, name="glass"),
    path("<int:picture_id>/original/<str:key>.png", views.original_fitted, name="original-fitted"),
    path("<int:picture_id>/source.png", views.source, name="source"),
    path("<int:picture_id>/take/<str:ending>/", views.take, name="take"),
]
