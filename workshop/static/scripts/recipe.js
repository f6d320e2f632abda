// The recipe's own controls: values beside sliders, what a method has no use for, the three points of the tone.
(() => {
  const {form, hooks} = window.live;
  const forms = {
    signed: v => (v < 0 ? "−" : "+") + Math.abs(v).toFixed(2), two: v => (+v).toFixed(2),
    percent: v => `${Math.round(v * 100)} %`, share: v => `${Math.round(v)} %`, whole: v => `${Math.round(v)}`,
  };

  function say() {
    for (const slide of form().querySelectorAll(".fm-slide")) {
      const share = (slide.value - slide.min) / (slide.max - slide.min) * 100;
      slide.style.setProperty("--p", `${share}%`);
      const out = form().querySelector(`output[for="${slide.id}"]`);
      if (out) out.value = forms[out.dataset.form](slide.value);
    }
    const method = form().elements.method.value;
    const auto = form().elements.auto_threshold, slide = form().elements.threshold;
    if (auto && slide) slide.disabled = auto.checked;
    for (const part of form().querySelectorAll("[data-methods]")) part.hidden = !part.dataset.methods.split(" ").includes(method);
    for (const part of form().querySelectorAll("[data-when]")) {
      const [name, value] = part.dataset.when.split("=");
      part.hidden = form().elements[name].value !== value;
    }
    placeMid();
  }
  // The middle handle stands where the middle of the scale comes from; the mid tone is a power between the two points.
  function placeMid() {
    const {black_point: black, white_point: white, mid_tone: mid} = form().elements, place = document.getElementById("mid-place");
    if (!place || document.activeElement === place) return;
    place.value = Math.round(+black.value + (white.value - black.value) * 0.5 ** +mid.value);
  }
  function takeMid(place) {
    const {black_point: black, white_point: white, mid_tone: mid} = form().elements;
    const share = Math.min(0.87, Math.max(0.032, (place.value - black.value) / (white.value - black.value)));
    mid.value = (Math.log(share) / Math.log(0.5)).toFixed(2);
  }
  // The two points keep at least five steps between them; the one that is not held gives way.
  function partPoints(held) {
    const {black_point: black, white_point: white} = form().elements;
    if (+white.value >= +black.value + 5) return;
    if (held === black) white.value = +black.value + 5; else black.value = white.value - 5;
  }
  hooks.say = say;
  hooks.moved = field => {
    if (field.id === "mid-place") takeMid(field);
    if (["black_point", "white_point"].includes(field.name)) partPoints(field);
  };
})();
