import assert from "node:assert/strict";
import test from "node:test";

import {isUneven} from "../../workshop/static/scripts/lib/uneven.js";

test("whole zooms lie on whole pixels, and so near two and above none is seen to be uneven", () => {
  for (const zoom of [1, 1.01, 0.99, 2, 2.5, 3, 8]) assert.equal(isUneven(zoom), false, zoom);
  for (const zoom of [0.3, 0.49, 0.5, 0.88, 1.03, 1.14, 1.5, 1.87, 1.97]) assert.equal(isUneven(zoom), true, zoom);
});
