// Places on a picture: from a pointer or from arrow keys, in the picture's own pixels.

export const hold = (value, least, most) => Math.min(most, Math.max(least, value));

/** Where a pointer is on an element that shows a field {x, y, w, h}, in the field's units. */
export function placeIn(event, element, {x = 0, y = 0, w, h}) {
  const box = element.getBoundingClientRect();
  return {x: x + (event.clientX - box.left) / box.width * w, y: y + (event.clientY - box.top) / box.height * h};
}

/** The pixel a place lies in, brought into the field. */
export const pixelOf = (place, {x = 0, y = 0, w, h}) =>
  ({x: hold(Math.floor(place.x), x, x + w - 1), y: hold(Math.floor(place.y), y, y + h - 1)});

/** The corner between pixels that is nearest to a place, brought into the field. */
export const cornerOf = (place, {x = 0, y = 0, w, h}) =>
  ({x: hold(Math.round(place.x), x, x + w), y: hold(Math.round(place.y), y, y + h)});

const ARROWS = {ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1]};

/** The step of an arrow key, `far` times as long with Shift; null for other keys. */
export function arrowStep(event, far = 1) {
  const by = ARROWS[event.key], times = event.shiftKey ? far : 1;
  return by ? {x: by[0] * times, y: by[1] * times} : null;
}

/** The pixels [x, y] of a straight line from one to another, without the first: a quick hand leaves no gaps. */
export function pixelsAlong([fx, fy], [tx, ty]) {
  const steps = Math.max(Math.abs(tx - fx), Math.abs(ty - fy)), pixels = [];
  for (let i = 1; i <= steps; i++) pixels.push([Math.round(fx + (tx - fx) * i / steps), Math.round(fy + (ty - fy) * i / steps)]);
  return pixels;
}
