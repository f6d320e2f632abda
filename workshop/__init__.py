"""The web side of Fine Mosaic: pages, data and jobs. It holds no rule of the job itself."""
