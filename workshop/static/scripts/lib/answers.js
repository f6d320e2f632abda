// Asking the server for what changes with a form. Its answer's first line is JSON and comes as soon as the new picture is
// there; the HTML of everything that is measured of it follows in the same answer.

import {freshen} from "./token.js";

/** Splits a text into what its first line tells (null as long as it is not whole) and the rest. */
export function split(text) {
  const end = text.indexOf("\n");
  return end < 0 ? {told: null, html: ""} : {told: JSON.parse(text.slice(0, end)), html: text.slice(end + 1)};
}

/** Posts fields. `onTold` is called with the first line as soon as it is there. */
export async function ask(url, body, {signal, token, onTold = () => {}} = {}) {
  const answer = await fetch(url, {method: "POST", body, signal, headers: {"HX-Request": "true", "X-Live": "1", "X-CSRFToken": token}});
  freshen(answer.headers.get("X-Fresh-Token"));
  const known = {ok: answer.ok, status: answer.status, url: answer.url};
  if (!answer.ok || !answer.headers.has("X-Live")) return {...known, told: null, html: await answer.text()};
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let text = "", early = false;
  for (;;) {
    const {done, value} = await reader.read();
    if (done) break;
    text += value;
    if (!early && text.includes("\n")) { early = true; onTold(split(text).told); }
  }
  return {...known, ...split(text)};
}
