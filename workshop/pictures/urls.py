"""Addresses of the Pictures station, below a build's."""

from django.urls import path, re_path

from workshop.pictures import recipe_views, set_views, variant_views, views

urlpatterns = [
    path("", views.pictures, name="pictures"),
    path("add/", views.add, name="add-picture"),
    path("sets/", set_views.page, name="sets"),
    path("sets/lay/", set_views.lay, name="lay-set"),
    path("sets/dissolve/", set_views.dissolve, name="dissolve-set"),
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
    path("<int:picture_id>/variants/", variant_views.page, name="variants"),
    path("<int:picture_id>/variants/try/", variant_views.try_all, name="try-all"),
    path("<int:picture_id>/variants/keep/", variant_views.keep, name="keep-variant"),
    path("<int:picture_id>/variants/take/", variant_views.take, name="take-variant"),
    path("<int:picture_id>/variants/<int:variant_id>/drop/", variant_views.drop, name="drop-variant"),
    path("<int:picture_id>/variants/difference.png", variant_views.difference, name="difference"),
    path("<int:picture_id>/variants/sheet/<int:job_id>/<int:number>.png", variant_views.cell, name="trial"),
    path("<int:picture_id>/variants/<str:slug>/<str:key>.png", variant_views.shot, name="shot"),
    path("<int:picture_id>/recipes/", recipe_views.page, name="recipes"),
    path("<int:picture_id>/recipes/save/", recipe_views.save, name="save-named"),
    path("<int:picture_id>/recipes/use/", recipe_views.use, name="use-recipe"),
    path("<int:picture_id>/recipes/bring/", recipe_views.bring, name="bring-recipe"),
    path("<int:picture_id>/recipes/<int:recipe_id>/forget/", recipe_views.forget, name="forget-recipe"),
    re_path(r"^(?P<picture_id>\d+)/recipes/(?P<what>recipe|passport|sending)\.json$", recipe_views.take, name="take-recipe"),
]
