import assert from "node:assert/strict";
import test from "node:test";
import {reached, written} from "../../workshop/static/scripts/lib/curve.js";

test("a place in the drawing is a reading and a number; outside of it the ends", () => {
  assert.deepEqual(reached({x: 0, y: 40}, [0, 68, -10, 90]), [0, -10]);
  assert.deepEqual(reached({x: 120, y: 0}, [0, 68, -10, 90]), [68, 90]);
  assert.deepEqual(reached({x: 60, y: 10}, [0, 68, -10, 90]), [34, 65]);
  assert.deepEqual(reached({x: 400, y: -9}, [0, 68, -10, 90]), [68, 90]);
});

test("a point that is moved is written as its value writes it, and stays between its neighbours", () => {
  assert.equal(written("0.0=0  3.4=20  6.8=60", 1, [12, 33], [0, 34, 68], 1), "0.0=0  1.2=33  6.8=60");
  assert.equal(written("0.0=0  3.4=20  6.8=60", 1, [99, 33], [0, 34, 68], 1), "0.0=0  6.7=33  6.8=60");
  assert.equal(written("0.0=0  3.4=20  6.8=60", 1, [-4, 33], [0, 34, 68], 1), "0.0=0  0.1=33  6.8=60");
  assert.equal(written("06:00:00=0 18:00:00=9", 0, [5, 4], [21600, 64800], 0), "06:00:00=4  18:00:00=9");
});
