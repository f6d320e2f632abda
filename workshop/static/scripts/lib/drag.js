// Dragging with a pointer: begin, move, end; or an end that the system takes away (a call, a gesture), which changes nothing.

/**
 * `begin(event)` gives false where nothing is to be dragged. With `within`, elements may be laid anew: the listener stands
 * on the document, and what matches the selector is dragged.
 */
export function drag(element, {begin, move = () => {}, end = () => {}, cancel = () => {}, within = ""}) {
  let held = null;
  const target = event => within ? event.target.closest?.(within) : element;
  element.addEventListener("pointerdown", event => {
    const taken = target(event);
    if (!taken || event.button || begin(event) === false) return;
    held = event.pointerId;
    taken.setPointerCapture(held);
    taken.focus?.();
    event.preventDefault();
  });
  element.addEventListener("pointermove", event => { if (event.pointerId === held) move(event); });
  element.addEventListener("pointerup", event => { if (event.pointerId === held) { held = null; end(event); } });
  element.addEventListener("pointercancel", event => { if (event.pointerId === held) { held = null; cancel(event); } });
}

/** A box {x, y, w, h} kept within W x H and no smaller than `least`. */
export function heldBox(box, W, H, least) {
  const w = Math.max(Math.min(least, W), Math.min(box.w, W)), h = Math.max(Math.min(least, H), Math.min(box.h, H));
  return {x: Math.max(0, Math.min(box.x, W - w)), y: Math.max(0, Math.min(box.y, H - h)), w, h};
}

/** A box dragged by (dx, dy): as a whole, or by the corner {x: 0 or 1, y: 0 or 1} that is held. */
export function draggedBox(from, dx, dy, corner, least) {
  if (!corner) return {...from, x: from.x + dx, y: from.y + dy};
  const box = {...from};
  if (corner.x) box.w = from.w + dx; else { const d = Math.min(dx, from.w - least); box.x = from.x + d; box.w = from.w - d; }
  if (corner.y) box.h = from.h + dy; else { const d = Math.min(dy, from.h - least); box.y = from.y + d; box.h = from.h - d; }
  return box;
}
