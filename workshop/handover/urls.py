"""Addresses of station 7, below those of a build."""

from django.urls import path

from workshop.handover import change_views, live_views, views

urlpatterns = [
    path("hand-over/", views.files, name="hand-over"),
    path("hand-over/make/", views.make, name="make-hand-over"),
    path("hand-over/<int:number>.zip", views.take, name="take-hand-over"),
    path("hand-over/<int:number>/file/<path:path>", views.one_file, name="hand-over-file"),
    path("hand-over/sizes/", views.sizes, name="hand-over-sizes"),
    path("hand-over/changes/", change_views.changes, name="hand-over-changes"),
    path("hand-over/changes/now/<path:path>", change_views.now, name="hand-over-now"),
    path("hand-over/changes/copy/", change_views.copy, name="hand-over-copy"),
    path("hand-over/live/", live_views.live, name="hand-over-live"),
]
