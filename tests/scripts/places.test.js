import assert from "node:assert/strict";
import test from "node:test";
import {arrowStep, cornerOf, hold, pixelOf, pixelsAlong, placeIn} from "../../workshop/static/scripts/lib/places.js";

// 160 x 80 pixels shown 640 wide and 320 high, 100 from the left and 50 from the top: four times as large.
const element = {getBoundingClientRect: () => ({left: 100, top: 50, width: 640, height: 320})};
const field = {w: 160, h: 80};

test("a value is held between its bounds, which belong to it", () => {
  for (const [value, held] of [[-1, 0], [0, 0], [7, 7], [9, 9], [10, 9]]) assert.equal(hold(value, 0, 9), held);
});

test("a pointer's place is told in the picture's pixels", () => {
  assert.deepEqual(placeIn({clientX: 102, clientY: 370}, element, field), {x: 0.5, y: 80});
  assert.deepEqual(placeIn({clientX: 100, clientY: 50}, element, {x: 16, y: 8, w: 32, h: 16}), {x: 16, y: 8});
});

test("a pixel begins at its number and ends before the next; outside, the nearest is meant", () => {
  for (const [x, pixel] of [[-0.1, 0], [0, 0], [0.99, 0], [1, 1], [159.9, 159], [160, 159]]) {
    assert.equal(pixelOf({x, y: 0}, field).x, pixel);
  }
  assert.deepEqual(pixelOf({x: 3, y: 99}, {x: 10, y: 4, w: 2, h: 3}), {x: 10, y: 6});
});

test("corners lie between pixels, so there is one more of them", () => {
  for (const [y, corner] of [[0.49, 0], [0.5, 1], [79.6, 80], [81, 80]]) assert.equal(cornerOf({x: 0, y}, field).y, corner);
});

test("arrow keys step by one, with Shift as far as is said; other keys do not", () => {
  assert.deepEqual(arrowStep({key: "ArrowLeft"}, 8), {x: -1, y: 0});
  assert.deepEqual(arrowStep({key: "ArrowDown", shiftKey: true}, 8), {x: 0, y: 8});
  assert.equal(arrowStep({key: "Home"}), null);
});

test("a quick hand leaves no gaps", () => {
  assert.deepEqual(pixelsAlong([0, 0], [3, 1]), [[1, 0], [2, 1], [3, 1]]);
  assert.deepEqual(pixelsAlong([2, 2], [2, 0]), [[2, 1], [2, 0]]);
  assert.deepEqual(pixelsAlong([5, 5], [5, 5]), []);
});
