"""Addresses of signing in and out."""

from django.urls import path

from workshop.accounts import views

urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("sign-in/demo/", views.demo_sign_in, name="demo-sign-in"),
    path("sign-up/", views.sign_up, name="sign-up"),
    path("sign-out/", views.SignOut.as_view(), name="sign-out"),
]
