"""What a preview of one picture takes with 0, 19 and 199 others in its build: `python -m bench.preview`.

Processor time of the whole request, figures included, and its queries; every preview is of a new recipe. To hold: the same
with 200 pictures as alone within a tenth, and no more than 12 queries.
"""

import io
import statistics
import time

import numpy as np

from bench.database import database
from bench.scenes import landscape

COUNTS = (1, 20, 200)
ROUNDS = 40


def main() -> None:
    with database():
        from django.contrib.auth import get_user_model
        from django.db import connection
        from django.test import Client
        from django.test.utils import CaptureQueriesContext, setup_test_environment
        from PIL import Image

        from mosaic.warm import warm
        from workshop.builds.services import start_build
        from workshop.documents.originals import keep_picture
        from workshop.pictures.services import add_picture

        setup_test_environment()
        warm()
        person = get_user_model().objects.create_user("rower", password="boathouse-bench")
        client = Client()
        client.force_login(person)
        out = io.BytesIO()
        Image.fromarray(landscape(7)).save(out, "PNG")
        build = start_build(owner=person, name="Board", panel="epaper-296x128-four-colour", board="low-power", link_kind="spi")
        original = keep_picture(data=out.getvalue(), file_name="marsh.png", owner=person)
        pictures = []
        medians = {}
        for count in COUNTS:
            while len(pictures) < count:
                pictures.append(add_picture(build=build, original=original, file_name="marsh.png"))
            page = f"/builds/{build.pk}/pictures/{pictures[0].pk}/"
            client.get(page)  # figures of new pictures are made by the first page that shows them
            times, queries = [], 0
            for number in range(ROUNDS):
                fields = {"exposure": f"{-1 + number / ROUNDS + count / 1e4:.4f}", "method": "floyd-steinberg"}
                begun = time.process_time()
                with CaptureQueriesContext(
                    connection,
                ) as seen:
                    answer = client.post(f"{page}preview/", fields, headers={"HX-Request": "true", "X-Live": "1"})
                    size = len(b"".join(answer.streaming_content) if answer.streaming else answer.content)
                times.append(time.process_time() - begun)
                queries = max(queries, len(seen))
                assert answer.status_code == 200
                assert size > 1000
            medians[count] = statistics.median(times)
            at95 = float(np.quantile(times, 0.95))
            print(
                f"{count:4} pictures: {medians[count] * 1000:6.1f} ms, 95th percentile {at95 * 1000:6.1f} ms, {queries} queries"
            )
        print(f"with 200 as alone: {medians[200] / medians[1]:.3f}")


if __name__ == "__main__":
    main()
