// The frame blown at: arrows grow with the square of the gust, the wind is turned round, and the panel dragged; what gives way first is told
// at once, from the gusts and forces that the server worked out for every whole degree.
import { forceText, massText, speedText } from "./quantities.js";

const SPEED_LINES = 6;
const WAYS = {
  tips: "It tips over",
  slides: "It slides",
  lifts: "It lifts off",
  pulled: "It pulls a foot out",
  fixing: "It pulls a fixing out",
  pushed: "It pushes a foot over",
  pressed: "It presses a foot into the soil",
};
const FROM = { front: "wind from the front", back: "wind from behind", side: "wind along the row" };

// What was chosen last stays chosen when new figures arrive.
const chosen = { gust: null, from: "back", tilt: null };

const one = (selector) => document.querySelector(selector);
const degreesText = (tilt) => `${Math.round(tilt)}°`;

function data(box) {
  box.blow ??= JSON.parse(box.dataset.blowValues);
  return box.blow;
}

// The least gust of a direction at which anything happens; null: never.
function givesWay(blow, from, tilt) {
  return blow.gives[from][tilt];
}

// Up to which tilt it stands a gust, whatever side it comes from: null where not even flat, 90 at any.
function standsUpTo(blow, gust) {
  const falls = blow.stands.findIndex((limit) => limit !== null && limit < gust);
  return falls < 0 ? 90 : falls === 0 ? null : falls - 1;
}

function ends(svg) {
  const [low, high] = svg
    .querySelector('[data-rack="panel"]')
    .getAttribute("d")
    .match(/-?[\d.]+ -?[\d.]+/g)
    .map((pair) => pair.split(" ").map(Number));
  return { low, high };
}

function arrow(svg, blow, from, gust, tilt) {
  const { low, high } = ends(svg);
  const along = from === "front" ? 0.25 : from === "back" ? 0.75 : 0.5;
  const at = [low[0] + (high[0] - low[0]) * along, low[1] + (high[1] - low[1]) * along];
  const size = Math.hypot(high[0] - low[0], high[1] - low[1]) || 1;
  // Off the glass, to the sky side; along the row straight up, as off a level plane.
  const out = from === "side" ? [0, -1] : [(high[1] - low[1]) / size, -(high[0] - low[0]) / size];
  const length = blow.forces[from][tilt] * gust * gust * blow.scale;
  const shown = Math.min(length, 120);
  // Pressing comes from the sky and ends on the glass, lifting from below.
  const sense = from === "front" ? 1 : -1;
  const [tail, tip] = [shown + 5, 5].map((far) => [at[0] + sense * out[0] * far, at[1] + sense * out[1] * far]);
  const way = [-sense * out[0], -sense * out[1]];
  const side = [-way[1], way[0]];
  const base = [tip[0] - way[0] * 9, tip[1] - way[1] * 9];
  /** @param {number[]} at */
  const point = ([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`;
  svg.querySelector('[data-blow="force"]').setAttribute("d", length > 1 ? `M${point(tail)}L${point(base)}` : "");
  svg
    .querySelector('[data-blow="head"]')
    .setAttribute(
      "d",
      length > 1 ? `M${point(tip)}L${point([base[0] + side[0] * 5, base[1] + side[1] * 5])}L${point([base[0] - side[0] * 5, base[1] - side[1] * 5])}Z` : "",
    );
}

function lines(svg, blow, from, gust) {
  const group = svg.querySelector('[data-blow="lines"]');
  const length = Math.min((gust / blow.gust) ** 2 * 44, 110);
  const paths = [];
  for (let i = 0; i < SPEED_LINES; i++) {
    const y = 48 + i * 30;
    const start = from === "front" ? 6 : 334;
    const way = from === "front" ? 1 : -1;
    if (from === "side") paths.push(`<circle class="speed-eye" cx="${310 + (i % 2) * 14}" cy="${y}" r="${Math.max(Math.sqrt(length), 0.5).toFixed(1)}"/>`);
    else
      paths.push(
        `<path class="speed-line" d="M${start} ${y}h${(way * length).toFixed(1)}"/><path class="speed-head" d="M${(start + way * (length + 6)).toFixed(1)} ${y}l${-7 * way} -3.5v7z"/>`,
      );
  }
  group.innerHTML = paths.join("");
}

// Where it meets the ground, from the front to the back, px.
function feetOf(svg, blow) {
  if (blow.feet.length) return blow.feet;
  const feet = [
    ...svg.querySelectorAll(
      '[data-part="front leg"], [data-part="front post"], [data-part="post"], [data-part="rear leg"], [data-part="rear post"], [data-part="back leg"], [data-part="pole"], [data-part="base bar"], [data-part="upright"]',
    ),
  ]
    .flatMap((part) => (part.getAttribute("d").match(/-?[\d.]+ -?[\d.]+/g) ?? []).map((pair) => pair.split(" ").map(Number)))
    .sort((a, b) => a[0] - b[0]);
  if (!feet.length) return [];
  const ground = Math.max(...feet.map(([, y]) => y));
  const standing = feet.filter(([, y]) => y > ground - 12);
  return [standing[0], standing[standing.length - 1]];
}

// The foot that leaves the ground: opposite to the one it would tip over.
function lifting(svg, blow, from, over) {
  const mark = svg.querySelector('[data-blow="lift"]');
  const feet = feetOf(svg, blow);
  if (!over || blow.anchored || from === "side" || !feet.length) return mark.setAttribute("d", "");
  const [x, y] = from === "back" ? feet[1] : feet[0];
  return mark.setAttribute("d", `M${x} ${y - 4}v-26m-6 8l6 -8l6 8`);
}

// What lies on the feet: a block of which the area grows with the mass.
function ballast(svg, blow, us) {
  const group = svg.querySelector('[data-blow="ballast"]');
  const feet = blow.ballast ? feetOf(svg, blow) : [];
  const side = Math.sqrt(blow.ballast) * 0.9;
  const told = blow.feet.map(([x, y]) => `<path class="told-foot" d="M${x} ${y}l-7 12h14z"/>`).join("");
  group.innerHTML =
    told +
    feet
      .map(
        ([x, y]) =>
          `<rect class="ballast" x="${(x - side / 2).toFixed(1)}" y="${(y - side * 0.6).toFixed(1)}" width="${side.toFixed(1)}" height="${(side * 0.6).toFixed(1)}"/><text class="ax halo" x="${x}" y="${(y + 13).toFixed(1)}" text-anchor="middle">${massText(blow.ballast, us)}</text>`,
      )
      .join("");
}

function show() {
  const box = one("#blow");
  if (!box) return;
  const svg = box.querySelector("svg.rack");
  const blow = data(box);
  const us = Boolean(box.dataset.us);
  const slider = one("#blow-gust");
  if (chosen.gust !== null && document.activeElement !== slider) slider.value = chosen.gust;
  const gust = Number(slider.value);
  const tilt = Math.max(0, Math.min(90, Math.round(Number(svg.querySelector('[data-rack="grip"]').getAttribute("aria-valuenow")))));
  const radio = one(`[name="blow-from"][value="${chosen.from}"]`);
  if (radio && !radio.checked) radio.checked = true;
  const limit = givesWay(blow, chosen.from, tilt);
  const over = limit !== null && gust >= limit;
  one("#blow-text").textContent = speedText(gust, us);
  slider.setAttribute("aria-valuetext", speedText(gust, us));
  box.closest(".fig").classList.toggle("gives-way", over);
  lines(svg, blow, chosen.from, gust);
  arrow(svg, blow, chosen.from, gust, tilt);
  lifting(svg, blow, chosen.from, over);
  ballast(svg, blow, us);
  const newtons = blow.forces[chosen.from][tilt] * gust * gust;
  const force = forceText(newtons, us);
  const verb = chosen.from === "front" ? "presses" : "lifts";
  const way = over
    ? `${WAYS[blow.ways[chosen.from][tilt]] ?? "It gives way"} at ${speedText(limit, us)}`
    : limit === null
      ? "Nothing of it moves by itself; what holds it must take this"
      : `It stands: it gives way at ${speedText(limit, us)}`;
  const high = standsUpTo(blow, gust);
  const upTo =
    limit === null
      ? ""
      : high === null
        ? ` ${speedText(gust, us)} it stands at no tilt.`
        : high < 90
          ? ` ${speedText(gust, us)} it stands up to ${degreesText(high)}.`
          : "";
  one("#blow-said").textContent =
    `${way}.${upTo} At ${degreesText(tilt)}, ${FROM[chosen.from]}, the air ${verb} with ${force}, ${chosen.from === "side" ? "straight up" : "square to the glass"}.`;
  const curve = one("#gust-curve");
  if (!curve) return;
  const { x0, x, base, top, y } = curve.dataset;
  const level = Math.max(Number(base) + Number(y) * gust, Number(top));
  curve.querySelector('[data-blow="gust"]').setAttribute("d", `M${x0} ${level.toFixed(1)}H330`);
  const dot = curve.querySelector('[data-blow="dot"]');
  dot.setAttribute("cx", Number(x0) + Number(x) * tilt);
  dot.setAttribute("cy", level);
  dot.classList.toggle("over", over);
}

document.addEventListener("input", (event) => {
  if (event.target.id !== "blow-gust") return;
  chosen.gust = Number(event.target.value);
  show();
});
document.addEventListener("change", (event) => {
  if (event.target.name !== "blow-from") return;
  chosen.from = event.target.value;
  show();
});
document.addEventListener("rack:drawn", show);

function heights() {
  for (const bar of document.querySelectorAll(".month-tower [data-height]")) bar.style.height = `${bar.dataset.height}px`;
}

// All months whose gusts ask for it, or none, in one save.
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-months]");
  if (!button) return;
  const boxes = [...document.querySelectorAll('.wind-month input[type="checkbox"]')];
  for (const box of boxes) box.checked = button.dataset.months === "needed" && Boolean(box.closest(".wind-month").querySelector(".month-cap.low"));
  boxes[0]?.dispatchEvent(new Event("change", { bubbles: true }));
});

function settle() {
  heights();
  show();
}
document.addEventListener("htmx:afterSettle", settle);
document.addEventListener("htmx:oobAfterSwap", heights);
document.addEventListener("DOMContentLoaded", settle);
settle();
