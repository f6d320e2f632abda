// Pictures of a glass lie on whole pixels of the page or are drawn smoothly: in a smaller one rows and columns left out, in one that is
// a little larger those laid twice, would show another picture.
import {isUneven} from "./lib/uneven.js";

const look = async shown => {
  const room = shown.getBoundingClientRect();
  let {naturalWidth: width, naturalHeight: height} = shown;
  if (shown instanceof SVGImageElement) {  // it does not know its own size; a sheet of several is as high as all of them
    const probe = new Image();
    probe.src = shown.href.baseVal;
    await probe.decode().catch(() => null);
    width = probe.naturalWidth; height = 0;
  }
  if (!width || !room.width) return;
  const zoom = Math.min(room.width / width, height ? room.height / height : Infinity);
  shown.classList.toggle("is-smooth", isUneven(zoom * devicePixelRatio));
};
const sizes = new ResizeObserver(entries => { for (const entry of entries) look(entry.target); });
const watch = shown => { sizes.observe(shown); look(shown); };
const all = () => document.querySelectorAll("img, svg image");

all().forEach(watch);
// Loads of what is on a page are heard on their way down to it; the window is not on that way.
document.addEventListener("load", event => { if (event.target instanceof HTMLImageElement || event.target instanceof SVGImageElement) watch(event.target); }, true);
addEventListener("resize", () => all().forEach(look));
