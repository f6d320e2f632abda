// Laying pictures on the mat: what comes by its address is decoded first, so that the glass never blinks.
const wanted = {};
let coming = 0, whenThere = () => {};

/** Whether a picture is still on its way. */
export const isComing = () => coming > 0;

/** `act` is called each time a picture that was on its way has come or failed. */
export function onThere(act) { whenThere = act; }

async function lift(id, url) {
  if (!url) return;
  wanted[id] = url;
  const place = document.getElementById(id);
  if (!place || place.getAttribute("src") === url) return;
  if (url.startsWith("data:")) { place.src = url; return; }
  const next = new Image();
  next.src = url;
  coming++;
  // One that fails is laid as well: the browser asks once more, and no older picture stays beside newer figures.
  await next.decode().catch(() => {});
  coming--;
  if (wanted[id] === url) place.src = url;
  whenThere();
}

/** Shows the result and the original; a result that is kept also on its thumb. */
export function show({glass = "", original = ""}) {
  lift("glass", glass);
  lift("original", original);
  if (!glass.startsWith("data:")) lift("thumb-here", glass);
}

/** The next frame; a page that nobody sees has none, and does not wait for it. */
export const drawn = () => new Promise(done => { requestAnimationFrame(done); setTimeout(done, 100); });
