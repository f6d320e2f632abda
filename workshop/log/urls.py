"""Addresses of station 8, below those of a build."""

from django.urls import path

from workshop.log import book_views, measured_views, photo_views, version_views, views

urlpatterns = [
    path("log/", views.log, name="log"),
    path("log/quick/", views.quick, name="quick-entry"),
    path("log/add/", views.add, name="add-entry"),
    path("log/<int:entry_id>/", views.entry, name="log-entry"),
    path("log/<int:entry_id>/change/", views.change, name="change-entry"),
    path("log/<int:entry_id>/delete/", views.delete, name="delete-entry"),
    path("log/<int:entry_id>/photo.png", views.photo, name="entry-photo"),
    path("log/measured/", measured_views.measured, name="measured"),
    path("log/measured/take/", measured_views.take, name="take-factor"),
    path("log/photo/", photo_views.glass_photo, name="glass-photo"),
    path("log/photo/read/", photo_views.read, name="read-glass-photo"),
    path("log/versions/", version_views.versions, name="versions"),
    path("log/versions/day/", version_views.return_to_a_day, name="return-to-day"),
    path("log/versions/keep/", version_views.keep, name="keep-version"),
    path("log/versions/<int:version_id>/", version_views.compare, name="version"),
    path("log/versions/<int:version_id>/return/", version_views.return_to, name="return-to-version"),
    path("log/versions/<int:version_id>/delete/", version_views.delete, name="delete-version"),
    path("log/book/", book_views.book, name="book"),
    path("log/book.pdf", book_views.pdf, name="book-pdf"),
    path("log/book/link/", book_views.link, name="book-link"),
]
