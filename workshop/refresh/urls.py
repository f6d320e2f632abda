"""Addresses of station 6, below those of a build."""

from django.urls import path

from workshop.refresh import benchmark_views, energy_views, schedule_views, views, window_views

urlpatterns = [
    path("refresh/", views.speed, name="refresh"),
    path("refresh/buffers/", views.buffers, name="buffers"),
    path("refresh/links/", views.links, name="links"),
    path("refresh/windows/", window_views.windows, name="windows"),
    path("refresh/schedule/", schedule_views.schedule, name="schedule"),
    path("refresh/schedule/keep/", schedule_views.keep, name="keep-schedule"),
    path("refresh/schedule/fix/", schedule_views.fix, name="fix-schedule"),
    path("refresh/benchmark/", benchmark_views.benchmark, name="benchmark"),
    path("refresh/benchmark/paste/", benchmark_views.paste, name="paste-benchmark"),
    path("refresh/benchmark/use/", benchmark_views.use, name="use-benchmark"),
    path("refresh/benchmark/<str:wanted>", benchmark_views.source, name="benchmark-source"),
    path("refresh/energy/", energy_views.energy, name="energy"),
    path("refresh/energy/keep/", energy_views.keep, name="keep-energy"),
    path("refresh/take/", views.take, name="take-plan"),
]
