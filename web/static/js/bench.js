// The bench: the mount follows the sun through the chosen day, scrubbed by the slider or played in twelve seconds.
import { all, one } from "./page.js";

const SECONDS = 12;
let playing = 0;
let minute = null; // kept when a knob replays the day

const day = () => one("#bench-day");
const read = () => JSON.parse(day().dataset.play);
const clock = (minutes) => `${Math.floor(minutes / 60)}:${String(Math.floor(minutes % 60)).padStart(2, "0")}`;
const degrees = (value) => `${value.toFixed(0)}°`.replace("-", "−");

// The glass and the sun lean to the right for a roll seen from the axis's high end; a tilt leans the same way; an azimuth turns seen from above.
function show(data, at) {
  const place = Math.max(0, Math.min(data.axes[0].angle.length - 1, Math.round((at - data.from) / data.every)));
  const x = data.left + ((at - data.from) / (data.to - data.from)) * (data.right - data.left);
  for (const cursor of all("[data-cursor]", day())) cursor.setAttribute("d", cursor.getAttribute("d").replace(/^M[\d.]+/, `M${x.toFixed(1)}`));
  const words = data.axes.map(
    (axis) => `${data.axes.length > 1 ? `${axis.name} ` : ""}${degrees(axis.angle[place])}, the sun ${degrees(axis.sun[place])}: ${data.said[axis.why[place]]}`,
  );
  one("[data-clock]", day()).textContent = clock(at);
  one("[data-said]", day()).textContent = words.join("; ");
  for (const dial of all("[data-dial]", day())) {
    const axis = data.axes[Number(dial.dataset.dial)];
    one(".dial-glass", dial).setAttribute("transform", `rotate(${axis.angle[place]} 120 88)`);
    one(".dial-sun", dial).setAttribute("transform", `rotate(${axis.sun[place]} 120 88)`);
    one(".dial-disc", dial).setAttribute("fill-opacity", String(Math.max(0.12, Math.min(1, data.beam[place] / 70))));
    one(".dial-ray", dial).setAttribute("stroke-opacity", String(Math.min(1, data.beam[place] / 40)));
  }
  const slider = one("#bench-minute");
  slider.value = String(at);
  slider.setAttribute("aria-valuetext", `${clock(at)}, ${words.join("; ")}`);
}

function stop() {
  cancelAnimationFrame(playing);
  playing = 0;
  const button = one("[data-run]");
  if (button) button.textContent = "Play the day";
}

function start() {
  const data = read();
  const from = minute >= data.to - data.every ? data.from : minute;
  const began = performance.now();
  one("[data-run]").textContent = "Stop";
  const step = (now) => {
    if (!day()) return;
    minute = Math.min(data.to, from + ((now - began) / 1000 / SECONDS) * (data.to - data.from));
    show(data, minute);
    if (minute < data.to) playing = requestAnimationFrame(step);
    else stop();
  };
  playing = requestAnimationFrame(step);
}

function begin() {
  if (!day()) return;
  stop();
  const data = read();
  const slider = one("#bench-minute");
  slider.min = data.from;
  slider.max = data.to;
  if (minute === null || minute < data.from || minute > data.to) minute = Math.min(data.to, Math.max(data.from, 720));
  show(data, minute);
}

document.addEventListener("input", (event) => {
  if (event.target.id !== "bench-minute") return;
  stop();
  minute = Number(event.target.value);
  show(read(), minute);
});
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-run]")) {
    if (playing) stop();
    else start();
  }
  const told = event.target.closest("[data-minute]");
  if (told && day()) {
    stop();
    minute = Number(told.dataset.minute);
    show(read(), minute);
  }
});
document.addEventListener("DOMContentLoaded", begin);
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id === "answer") begin();
});
