// Laying pictures on the mat: what comes by its address is decoded first, so that the glass never blinks.
const wanted = {};

function lift(id, url) {
  if (!url) return;
  wanted[id] = url;
  const place = document.getElementById(id);
  if (!place || place.getAttribute("src") === url) return;
  if (url.startsWith("data:")) { place.src = url; return; }
  const next = new Image();
  next.src = url;
  next.decode().then(() => { if (wanted[id] === url) place.src = url; }).catch(() => {});
}

/** Shows the result and the original; a result that is kept also on its thumb. */
export function show({glass = "", original = ""}) {
  lift("glass", glass);
  lift("original", original);
  if (!glass.startsWith("data:")) lift("thumb-here", glass);
}

/** The next frame; a page that nobody sees has none, and does not wait for it. */
export const drawn = () => new Promise(done => { requestAnimationFrame(done); setTimeout(done, 100); });
