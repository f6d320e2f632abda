"""Addresses of the workshop and of a build as a whole."""

from django.urls import path

from workshop.home import account_views, bin_views, file_views, new_views, search_views, views

urlpatterns = [
    path("", views.workshop, name="workshop"),
    path("search/", search_views.search, name="search"),
    path("search/keep/", search_views.keep, name="keep-search"),
    path("account/", account_views.account, name="account"),
    path("account/export/", account_views.export, name="export-account"),
    path("account/delete/", account_views.delete, name="delete-account"),
    path("bin/", bin_views.bin_page, name="bin"),
    path("bin/<int:document_id>/bring-back/", bin_views.bring_document_back, name="bring-document-back"),
    path("builds/new/", new_views.new_build, name="new-build"),
    path("builds/new/shelf/", new_views.shelf_part, name="new-shelf"),
    path("builds/bring/", file_views.bring, name="bring-build"),
    path("builds/<int:build_id>/file/", file_views.take, name="take-build"),
    path("builds/drop/", views.drop, name="drop"),
    path("builds/<int:build_id>/", views.open_build, name="build"),
    path("builds/<int:build_id>/sheet/", views.sheet, name="sheet"),
    path("builds/<int:build_id>/fix/", views.fix_build, name="fix-build"),
    path("builds/<int:build_id>/remove/", views.delete_build, name="delete-build"),
]
