// Plays the virtual panel's film in virtual time: the moments and their pictures are the server's, this only keeps the clock.
const el = id => document.getElementById(id);
const source = el("film-data");
const words = ms => `${ms.toLocaleString("en-GB", {minimumFractionDigits: 3, maximumFractionDigits: 3})} ms`;

function start() {
  const film = JSON.parse(source.textContent), moments = film.moments, last = moments.length - 1;
  const number = new Intl.NumberFormat("en-GB");
  const glass = el("glass"), range = el("film-range"), play = el("film-play"), lines = [...el("film-log").children];
  film.pictures.forEach(address => { new Image().src = address; });
  let at = last, clock = moments[last].ms, running = false, before = 0;
  range.max = last;

  function show(index, exact) {
    if (index !== at || exact) {
      at = index;
      const m = moments[at];
      const address = film.pictures[m.picture];
      if (glass.getAttribute("src") !== address) glass.src = address;
      range.value = at; range.setAttribute("aria-valuetext", `${m.time}: ${m.words}`);
      range.style.setProperty("--p", `${last ? at / last * 100 : 100}%`);
      el("film-words").textContent = m.words;
      el("film-bytes").textContent = number.format(m.bytes); el("film-clocks").textContent = number.format(m.clocks);
      lines.forEach((line, i) => line.classList.toggle("is-here", i === at));
      const box = el("film-log"), line = lines[at];
      box.scrollTop = Math.max(0, line.offsetTop - box.clientHeight / 2);
    }
    el("film-clock").textContent = exact ? moments[at].time : words(clock);
  }
  const reached = ms => { let low = 0, high = last; while (low < high) { const mid = (low + high + 1) >> 1; if (moments[mid].ms <= ms) low = mid; else high = mid - 1; } return low; };
  function stop() { running = false; play.textContent = at === last ? "Play again" : "Play"; }
  function tick(now) {
    if (!running) return;
    clock += (now - before) * +el("film-speed").value; before = now;
    if (clock >= moments[last].ms) { clock = moments[last].ms; show(last, true); stop(); return; }
    show(reached(clock), false);
    requestAnimationFrame(tick);
  }
  function run() {
    if (at === last) { clock = 0; show(0, true); }
    running = true; before = performance.now(); play.textContent = "Pause";
    requestAnimationFrame(tick);
  }
  function jump(index) { stop(); at = -1; index = Math.min(last, Math.max(0, index)); clock = moments[index].ms; show(index, true); stop(); }
  play.addEventListener("click", () => running ? (stop(), show(at, false)) : run());
  el("film-back").addEventListener("click", () => jump(at - 1));
  el("film-on").addEventListener("click", () => jump(at + 1));
  range.addEventListener("input", () => jump(+range.value));
  lines.forEach((line, i) => line.addEventListener("click", () => jump(i)));
  el("player").hidden = false;
  jump(last);
}
if (source) start();
