"""Addresses of station 6, below those of a build."""

from django.urls import path

from workshop.refresh import (
    benchmark_views,
    energy_views,
    paper_views,
    schedule_views,
    trace_views,
    views,
    wear_views,
    window_views,
)

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
    path("refresh/paper/", paper_views.paper, name="paper"),
    path("refresh/paper/at/", paper_views.moment, name="paper-moment"),
    path("refresh/paper/glass.png", paper_views.glass, name="paper-glass"),
    path("refresh/paper/schools/", paper_views.schools, name="paper-schools"),
    path("refresh/paper/keep/", paper_views.keep, name="keep-cleaning"),
    path("refresh/paper/take/", paper_views.take, name="take-school"),
    path("refresh/paper/model/", paper_views.keep_model, name="keep-ghost"),
    path("refresh/paper/photo/", paper_views.keep_photo, name="keep-paper-photo"),
    path("refresh/paper/photo-<str:key>.png", paper_views.photo, name="paper-photo"),
    path("refresh/wear/", wear_views.wear, name="wear"),
    path("refresh/wear/<str:what>.png", wear_views.picture, name="wear-picture"),
    path("refresh/wear/keep/", wear_views.keep, name="keep-wear"),
    path("refresh/wear/take/", wear_views.take, name="take-remedy"),
    path("refresh/wear/rules/", wear_views.rules, name="wear-rules"),
    path("refresh/wear/code/<str:wanted>", wear_views.code, name="wear-code"),
    path("refresh/trace/", trace_views.trace, name="trace"),
    path("refresh/trace/bring/", trace_views.bring, name="bring-trace"),
    path("refresh/trace/take/", trace_views.take, name="take-trace"),
    path("refresh/take/", views.take, name="take-plan"),
]
