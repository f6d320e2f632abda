"""The `mosaic` command: a contract that build scripts depend on."""
