import assert from "node:assert/strict";
import test from "node:test";
import {isComing, onThere, show} from "../../workshop/static/scripts/lib/shown.js";

// A page with a glass, and pictures whose decoding ends when the test says so.
const glass = {src: "", getAttribute: () => glass.src};
const started = [];
globalThis.document = {getElementById: id => (id === "glass" ? glass : null)};
globalThis.Image = class {
  decode() { return new Promise((come, fail) => started.push({come, fail})); }
};
const turn = () => new Promise(done => { setTimeout(done); });

test("a preview is laid at once, what comes by its address once it is decoded", async () => {
  let told = 0;
  onThere(() => told++);
  show({glass: "data:image/png;base64,AA"});
  assert.deepEqual([glass.src, isComing()], ["data:image/png;base64,AA", false]);
  show({glass: "/glass/1.png"});
  assert.deepEqual([glass.src, isComing()], ["data:image/png;base64,AA", true]);
  started.pop().come();
  await turn();
  assert.deepEqual([glass.src, isComing(), told], ["/glass/1.png", false, 1]);
});

test("an older picture never replaces a newer one, and one that fails leaves no older one standing", async () => {
  show({glass: "/glass/2.png"});
  show({glass: "/glass/3.png"});
  const [older, newer] = started.splice(0);
  newer.fail(new Error("gone"));
  await turn();
  assert.deepEqual([glass.src, isComing()], ["/glass/3.png", true]);
  older.come();
  await turn();
  assert.deepEqual([glass.src, isComing()], ["/glass/3.png", false]);
});
