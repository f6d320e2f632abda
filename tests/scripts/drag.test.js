import assert from "node:assert/strict";
import test from "node:test";
import {drag, draggedBox, heldBox} from "../../workshop/static/scripts/lib/drag.js";

const box = {x: 10, y: 20, w: 30, h: 40};

test("a box is kept on its sheet, and no smaller than the least", () => {
  assert.deepEqual(heldBox({x: -5, y: 70, w: 30, h: 40}, 100, 100, 8), {x: 0, y: 60, w: 30, h: 40});
  assert.deepEqual(heldBox({x: 95, y: 0, w: 2, h: 200}, 100, 100, 8), {x: 92, y: 0, w: 8, h: 100});
  assert.deepEqual(heldBox({x: 1, y: 1, w: 9, h: 9}, 4, 6, 8), {x: 0, y: 0, w: 4, h: 6});
});

test("as a whole it moves, by a corner it grows from the one across", () => {
  assert.deepEqual(draggedBox(box, 3, -4, null, 8), {x: 13, y: 16, w: 30, h: 40});
  assert.deepEqual(draggedBox(box, 3, -4, {x: 1, y: 1}, 8), {x: 10, y: 20, w: 33, h: 36});
  assert.deepEqual(draggedBox(box, 3, -4, {x: 0, y: 0}, 8), {x: 13, y: 16, w: 27, h: 44});
});

test("a corner stops at the least size instead of pushing the box along", () => {
  assert.deepEqual(draggedBox(box, 22, 32, {x: 0, y: 0}, 8), {x: 32, y: 52, w: 8, h: 8});
  assert.deepEqual(draggedBox(box, 23, 90, {x: 0, y: 0}, 8), {x: 32, y: 52, w: 8, h: 8});
});

/** An element that a test's hand can work: events go to its listeners. */
function glass() {
  const listeners = {};
  return {
    addEventListener: (name, act) => { listeners[name] = act; }, setPointerCapture: () => {}, focus: () => {},
    act: (name, pointerId = 1, button = 0) => listeners[name]({pointerId, button, preventDefault: () => {}}),
  };
}

test("begin, move and end belong to one pointer", () => {
  const element = glass(), seen = [];
  drag(element, {begin: () => seen.push("begin"), move: () => seen.push("move"), end: () => seen.push("end")});
  element.act("pointermove");
  element.act("pointerdown");
  element.act("pointermove", 2);
  element.act("pointermove");
  element.act("pointerup", 2);
  element.act("pointerup");
  element.act("pointermove");
  assert.deepEqual(seen, ["begin", "move", "end"]);
});

test("another button, or a refusal, begins nothing; what the system takes away changes nothing", () => {
  const element = glass(), seen = [];
  let willing = false;
  drag(element, {begin: () => willing, end: () => seen.push("end"), cancel: () => seen.push("cancel")});
  element.act("pointerdown");
  element.act("pointerup");
  willing = true;
  element.act("pointerdown", 1, 2);
  element.act("pointerup");
  element.act("pointerdown");
  element.act("pointercancel");
  element.act("pointerup");
  assert.deepEqual(seen, ["cancel"]);
});
