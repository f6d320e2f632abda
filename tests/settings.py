"""Settings for tests: the real ones, with files served as they lie and quick passwords."""

from workshop.settings import *  # noqa: F403

STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
TASKS = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}
ALLOWED_HOSTS = ["testserver", "127.0.0.1", "localhost"]
OFFER_DEMO = True
DEMO_HANDS_OVER = False  # here the work would be done at once, by each test that lays the demo
STATIC_ROOT = BASE_DIR / "workshop" / "static"  # noqa: F405
# As bin/start makes it.
DATABASES["default"]["TEST"] = {"CHARSET": "utf8mb4", "COLLATION": "utf8mb4_bin"}  # noqa: F405
