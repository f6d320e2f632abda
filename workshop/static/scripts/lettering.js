// The lettering's own controls: sliders say their value, choices without use are put away.
(() => {
  const say = slide => {
    const out = document.querySelector(`output[for="${slide.id}"]`);
    if (out) out.value = slide.dataset.axis ? Math.round(slide.value) : (+slide.value).toFixed(2);
    slide.style.setProperty("--p", `${(slide.value - slide.min) / (slide.max - slide.min) * 100}%`);
  };
  window.live.hooks.say = () => {
    document.querySelectorAll(".fm-slide").forEach(say);
    document.querySelectorAll("[data-when]").forEach(part => {
      const [name, values] = part.dataset.when.split("="), field = part.closest("form").elements[name];
      part.hidden = field ? !values.split(" ").includes(field.value) : false;
    });
  };
})();
