import assert from "node:assert/strict";
import test from "node:test";
import {holds, words} from "../../workshop/static/scripts/lib/slides.js";

test("a slide says its value in the form that stands beside it", () => {
  const said = [["signed", "-0.5", "−0.50"], ["signed", "0", "+0.00"], ["two", "1.5", "1.50"], ["percent", "0.255", "26 %"], ["share", "12.4", "12 %"], ["whole", "7", "7"]];
  for (const [form, value, expected] of said) assert.equal(words(value, form), expected);
});

const choice = value => () => value;

test("a part is wanted where a choice has one of its values", () => {
  assert.equal(holds("cut=grid size", choice("size")), true);
  assert.equal(holds("cut=grid size", choice("grid")), true);
  assert.equal(holds("cut=grid size", choice("siz")), false);
  assert.equal(holds("when=press swipe_left", choice("swipe left")), true);
  assert.equal(holds("when=press swipe_left", choice("swipe")), false);
});
