import assert from "node:assert/strict";
import test from "node:test";
import {Line} from "../../workshop/static/scripts/lib/line.js";

test("an act begins when the one before has ended, and the line says once that it is free", async () => {
  const seen = [];
  const line = new Line({whenFree: () => seen.push("free")});
  const slow = line.add(() => new Promise(done => { setTimeout(() => { seen.push("slow"); done("kept"); }, 5); }));
  const quick = line.add(() => { seen.push("quick"); return "too"; });
  assert.equal(line.isBusy, true);
  assert.deepEqual([await slow, await quick], ["kept", "too"]);
  assert.equal(line.isBusy, false);
  assert.deepEqual(seen, ["slow", "quick", "free"]);
});

test("an act that fails is told, gives false, and does not hold up the next", async () => {
  const troubles = [];
  const line = new Line({onTrouble: error => troubles.push(error.message)});
  const bad = line.add(() => { throw new Error("no answer"); });
  const good = line.add(() => true);
  assert.deepEqual([await bad, await good], [false, true]);
  assert.deepEqual(troubles, ["no answer"]);
});
