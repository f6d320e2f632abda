"""Addresses of the Lettering station, below a build's."""

from django.urls import path, re_path

from workshop.lettering import character_views, face_views, file_views, glyph_views, measure_views, sheet_views, views

urlpatterns = [
    path("lettering/", views.letterings, name="letterings"),
    path("lettering/faces/", face_views.faces, name="faces"),
    path("lettering/faces/<slug:slug>/licence.txt", face_views.licence, name="face-licence"),
    path("lettering/faces/start/", face_views.start, name="start-lettering"),
    path("lettering/faces/bring/", face_views.bring, name="bring-lettering"),
    path("lettering/faces/pictures/", face_views.of_cells, name="lettering-of-cells"),
    path("lettering/faces/<slug:slug>/<slug:key>.png", face_views.specimen, name="specimen"),
    path("lettering/measuring/", measure_views.measuring, name="measuring"),
    path("lettering/measuring/texts/", measure_views.keep_texts, name="keep-texts"),
    path("lettering/<int:lettering_id>/", views.lettering, name="lettering"),
    path("lettering/<int:lettering_id>/preview/", views.preview, name="preview-lettering"),
    path("lettering/<int:lettering_id>/change/", views.change, name="change-lettering"),
    re_path(r"^lettering/(?P<lettering_id>\d+)/(?P<direction>undo|redo)/$", views.step, name="step-lettering"),
    path("lettering/<int:lettering_id>/fix/", views.fix, name="fix-lettering"),
    path("lettering/<int:lettering_id>/font/", views.bring_font, name="bring-font"),
    path("lettering/<int:lettering_id>/glass/<slug:key>.png", views.glass, name="lettering-glass"),
    path("lettering/<int:lettering_id>/sheet/", sheet_views.sheet, name="lettering-sheet"),
    path(
        "lettering/<int:lettering_id>/sheet/<slug:mode>-<int:bits>-<int:size>-<slug:key>.png",
        sheet_views.cell,
        name="lettering-cell",
    ),
    path("lettering/<int:lettering_id>/characters/", character_views.characters, name="lettering-characters"),
    path("lettering/<int:lettering_id>/characters/stand-in/", character_views.stand_in, name="lettering-stand-in"),
    path("lettering/<int:lettering_id>/glyphs/", glyph_views.glyphs, name="lettering-glyphs"),
    path("lettering/<int:lettering_id>/glyphs/<int:code>/touch/", glyph_views.touch, name="touch-glyph"),
    path("lettering/<int:lettering_id>/glyphs/<int:code>/<slug:key>.png", glyph_views.glyph_png, name="glyph-png"),
    path("lettering/<int:lettering_id>/all/<slug:key>.png", glyph_views.all_png, name="lettering-all"),
    path("lettering/<int:lettering_id>/packing/", file_views.packing, name="lettering-packing"),
    re_path(r"^lettering/(?P<lettering_id>\d+)/take/(?P<ending>[a-z]+)/$", file_views.take, name="take-lettering"),
    path("lettering/<int:lettering_id>/measure/<int:number>/<slug:key>.png", measure_views.line_png, name="measured-line"),
]
