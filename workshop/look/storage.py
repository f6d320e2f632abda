"""Static files under names that hold their content's key."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class StaticStorage(CompressedManifestStaticFilesStorage):
    """Also what script modules import of each other goes by such names."""

    support_js_module_import_aggregation = True
