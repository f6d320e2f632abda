"""Addresses of what every document can, and of work on all of a build, below a build's."""

from django.urls import path, re_path

from workshop.stations import document_views, views

urlpatterns = [
    path("array-form/", views.set_array_form, name="set-array-form"),
    path("files/", views.start_files, name="start-files"),
    path("documents/bring/", document_views.bring, name="bring-document"),
    re_path(r"^documents/(?P<document_id>\d+)/(?P<direction>undo|redo)/$", document_views.step, name="step-document"),
    path("documents/<int:document_id>/rename/", document_views.rename, name="rename-document"),
    path("documents/<int:document_id>/duplicate/", document_views.duplicate, name="duplicate-document"),
    path("documents/<int:document_id>/move/", document_views.move, name="move-document"),
    path("documents/<int:document_id>/keep-as/", document_views.keep_as, name="keep-document-as"),
    path("documents/<int:document_id>/delete/", document_views.delete, name="delete-document"),
    path("documents/<int:document_id>/bring-back/", document_views.bring_back, name="document-bring-back"),
    path("documents/<int:document_id>/take/", document_views.take, name="take-document"),
]
