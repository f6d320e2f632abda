import assert from "node:assert/strict";
import test from "node:test";
import {ask, split} from "../../workshop/static/scripts/lib/answers.js";

test("the first line is JSON, the rest HTML; half a line tells nothing", () => {
  assert.deepEqual(split('{"glass":"a'), {told: null, html: ""});
  assert.deepEqual(split('{"glass":"a"}\n'), {told: {glass: "a"}, html: ""});
  assert.deepEqual(split('{"glass":"a"}\n<p>one\ntwo</p>'), {told: {glass: "a"}, html: "<p>one\ntwo</p>"});
});

/** An answer of the server in parts, each sent when it is asked for. */
function answering(parts, {status = 200, live = true} = {}) {
  const body = new ReadableStream({pull(stream) {
    const part = parts.shift();
    if (part === undefined) stream.close(); else stream.enqueue(new TextEncoder().encode(part));
  }});
  globalThis.fetch = async () => new Response(body, {status, headers: live ? {"X-Live": "1"} : {}});
}

test("the picture is told before the rest has come, and once", async () => {
  const parts = ['{"glass":', '"ü"}\n<p>', "much", " more</p>"], seen = [];
  answering(parts);
  const answer = await ask("/preview", "", {onTold: told => seen.push([told.glass, parts.length > 0])});
  assert.deepEqual(seen, [["ü", true]]);
  assert.equal(answer.html, "<p>much more</p>");
  assert.equal(answer.ok, true);
});

test("a refusal is HTML only", async () => {
  answering(["<p>Saved meanwhile.</p>"], {status: 409, live: false});
  const answer = await ask("/save", "");
  assert.deepEqual([answer.ok, answer.status, answer.told, answer.html], [false, 409, null, "<p>Saved meanwhile.</p>"]);
});
