"""Static files under names that hold their content's key."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class StaticStorage(CompressedManifestStaticFilesStorage):
    """Also what our script modules import of each other goes by such names; other packages' scripts are served as they are."""

    support_js_module_import_aggregation = True
    _js_module_import_aggregation_patterns = (
        "scripts/*.js",
        CompressedManifestStaticFilesStorage._js_module_import_aggregation_patterns[1],
    )
