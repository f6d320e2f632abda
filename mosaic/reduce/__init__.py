"""From a picture to the few values a panel can show: fit, tone, then one of the methods.

`METHODS` in `mosaic.reduce.methods` lists them; each is one module a family.
"""
