"""Addresses of station 7, below those of a build."""

from django.urls import path, register_converter

from workshop.handover import change_views, device_views, frame_views, live_views, views


class FrameEnding:
    """How a frame is asked for."""

    regex = "bin|png|raw"

    def to_python(self, value: str) -> str:
        return value

    def to_url(self, value: str) -> str:
        return value


register_converter(FrameEnding, "frame")

urlpatterns = [
    path("hand-over/", views.files, name="hand-over"),
    path("hand-over/make/", views.make, name="make-hand-over"),
    path("hand-over/layout/", views.keep_layout, name="keep-layout"),
    path("hand-over/<int:number>.zip", views.take, name="take-hand-over"),
    path("hand-over/<int:number>/file/<path:path>", views.one_file, name="hand-over-file"),
    path("hand-over/sizes/", views.sizes, name="hand-over-sizes"),
    path("hand-over/changes/", change_views.changes, name="hand-over-changes"),
    path("hand-over/changes/now/<path:path>", change_views.now, name="hand-over-now"),
    path("hand-over/changes/copy/", change_views.copy, name="hand-over-copy"),
    path("hand-over/frames/", frame_views.frames, name="frame-feed"),
    path("hand-over/frames/change/", frame_views.change, name="change-frame-feed"),
    path("hand-over/frames/device/", frame_views.device, name="frame-device"),
    path("hand-over/frames/<str:name>", frame_views.program, name="frame-program"),
    path("frame.<frame:ending>", device_views.frame, name="device-frame"),
    path("frame/values", device_views.values, name="device-values"),
    path("frame/report", device_views.reports, name="device-reports"),
    path("hand-over/live/", live_views.live, name="hand-over-live"),
]
