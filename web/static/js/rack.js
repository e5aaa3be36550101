// The rack from the side: drag the panel (or arrow its grip) to any tilt the frame reaches, or a hole along its bar: parts and energies follow
// at once. How a frame stands at each of its stops comes from the server, ready to be drawn: no rule of it is here.
import { formatLength, INCH } from "./lengths.js";

const rad = (degrees) => (degrees * Math.PI) / 180;
const at = (x, y) => `${x.toFixed(1)} ${y.toFixed(1)}`;
const degreesText = (tilt) => `${Math.abs(tilt - Math.round(tilt)) > 0.05 ? tilt.toFixed(1) : Math.round(tilt)}°`;
const least = (list, of) => list.reduce((best, one) => (of(one) < of(best) ? one : best));
const kwh = (value) =>
  Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, "\u2009");

function parts(svg) {
  const found = {};
  for (const element of svg.closest(".fig").querySelectorAll("[data-rack]")) found[element.dataset.rack] = element;
  svg.rack ??= JSON.parse(svg.dataset.rackData);
  return { data: svg.rack, found };
}

// A value between the surface's tilts, straight from one to the next.
function between(tilts, values, tilt) {
  const after = tilts.findIndex((one) => one >= tilt);
  if (after <= 0) return values[after === 0 ? 0 : values.length - 1];
  const share = (tilt - tilts[after - 1]) / (tilts[after] - tilts[after - 1]);
  return values[after - 1] * (1 - share) + values[after] * share;
}

// How a told frame stands at its stops, or with one hole of its bar at every place for it: asked for once, when a hand comes near. Null where
// there is no connection: then it stays as it is drawn.
/** @param {SVGSVGElement & { asked?: object, stops?: object[] }} svg @param {number | ""} hole @returns {Promise<any[] | null>} */
function poses(svg, hole = "") {
  const { built } = parts(svg).data;
  if (!built) return Promise.resolve([]);
  svg.asked ??= {};
  svg.asked[hole] ??= fetch(`${built.poses}${hole === "" ? "" : `&hole=${hole}`}`)
    .then((answer) => (answer.ok ? answer.json() : Promise.reject(answer.status)))
    .then((told) => {
      if (hole === "") svg.stops = told.poses;
      return told.poses;
    })
    .catch(() => {
      delete svg.asked[hole];
      return null;
    });
  return svg.asked[hole];
}

// The frame's own parts as they stand in one pose; gives the glass in pixels.
function drawBuilt(svg, pose) {
  for (const [name, d] of Object.entries(pose.parts)) svg.querySelector(`[data-part="${name}"]`)?.setAttribute("d", d);
  for (const [name, [d, x, y, anchor, text, number]] of Object.entries(pose.measures)) {
    const written = svg.querySelector(`[data-written="${name}"]`);
    if (!written) continue;
    svg.querySelector(`[data-dim="${name}"]`).setAttribute("d", d);
    for (const [key, value] of [
      ["x", x],
      ["y", y],
      ["text-anchor", anchor],
    ])
      written.setAttribute(key, value);
    if (number !== null) written.dataset.number = number;
    written.textContent = text;
  }
  pose.bar.forEach(([x, y], number) => {
    const circle = svg.querySelector(`[data-bar="${number}"]`);
    circle?.setAttribute("cx", x);
    circle?.setAttribute("cy", y);
    circle?.classList.toggle("used", number === pose.used);
  });
  return pose.glass;
}

function draw(svg, wanted, pose = svg.stops?.length ? least(svg.stops, (one) => Math.abs(one.tilt - wanted)) : null) {
  const { data, found } = parts(svg);
  if (data.built && !pose) return;
  const tilt = pose ? pose.tilt : wanted;
  const [x, y] = data.hinge;
  let point = (along) => {
    const reach = (along - data.share) * data.length;
    return [x + reach * Math.cos(rad(tilt)), y - reach * Math.sin(rad(tilt))];
  };
  if (data.built) {
    const [low, high] = drawBuilt(svg, pose);
    point = (along) => [low[0] + (high[0] - low[0]) * along, low[1] + (high[1] - low[1]) * along];
  }
  const top = point(1);
  found.panel.setAttribute("d", `M${at(...point(0))}L${at(...top)}`);
  found.grip.setAttribute("cx", top[0].toFixed(1));
  found.grip.setAttribute("cy", top[1].toFixed(1));
  if (found.leg) {
    const foot = point(0.75);
    found.leg.setAttribute("d", `M${at(...foot)}V${data.ground}`);
  }
  found.arc.setAttribute("d", `M${at(x + 46, y)} A46 46 0 0 0 ${at(x + 46 * Math.cos(rad(tilt)), y - 46 * Math.sin(rad(tilt)))}`);
  if (data.built) {
    found.label.setAttribute("x", (top[0] - 15).toFixed(1));
    found.label.setAttribute("y", (top[1] - 6).toFixed(1));
  } else if (!data.share) {
    found.label.setAttribute("x", (x + 58 * Math.cos(rad(tilt / 2))).toFixed(1));
    found.label.setAttribute("y", (y - 58 * Math.sin(rad(tilt / 2)) + 4).toFixed(1));
  }
  found.label.textContent = degreesText(tilt);
  [0.2, 0.5, 0.8].forEach((share, i) => {
    const ray = svg.querySelectorAll(".ray")[i];
    if (!ray || data.sun === null) return;
    const end = point(share);
    const far = Math.min(170, (end[1] - 12) / Math.max(Math.sin(rad(data.sun)), 0.12), (end[0] - 4) / Math.max(Math.cos(rad(data.sun)), 0.12));
    ray.setAttribute("d", `M${at(end[0] - far * Math.cos(rad(data.sun)), end[1] - far * Math.sin(rad(data.sun)))}L${at(...end)}`);
  });
  const [day, year] = [between(data.tilts, data.day, tilt), between(data.tilts, data.year, tilt)];
  found["tilt-text"].textContent = degreesText(tilt);
  found.day.textContent = day.toFixed(1);
  found.year.textContent = kwh(year);
  if (found.incidence) found.incidence.textContent = degreesText(between(data.tilts, data.incidence, tilt));
  found.grip.setAttribute("aria-valuenow", tilt);
  found.grip.setAttribute("aria-valuetext", `${degreesText(tilt)}: ${day.toFixed(1)} kWh that day, ${kwh(year)} kWh if it stayed all year`);
  svg.dispatchEvent(new CustomEvent("rack:drawn", { bubbles: true }));
}

function write(name, value) {
  const field = document.querySelector(`#station-form [name="${name}"]`);
  if (!field || field.value === value) return;
  field.value = value;
  field.dispatchEvent(new Event("change", { bubbles: true }));
}

// A fixed mount has one tilt: letting go of the panel writes it into its field.
function settle(tilt) {
  if (document.querySelector('#station-form [name="kind"]')?.value === "fixed") write("tilt", String(tilt));
}

function place(svg, event) {
  return new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
}

// Follows a hand from now on; what it does before the poses are there is done when they are.
function follow(poses, move, done) {
  let [there, last] = [null, null];
  const go = (event) => {
    last = event;
    if (there) move(event, there);
  };
  const begun = poses.then((found) => {
    there = found;
    if (there && last) move(last, there);
  });
  const up = () => {
    document.removeEventListener("pointermove", go);
    document.removeEventListener("pointerup", up);
    begun.then(() => there && done());
  };
  document.addEventListener("pointermove", go);
  document.addEventListener("pointerup", up);
}

function dragPanel(hit) {
  const svg = hit.closest("svg");
  const { data, found } = parts(svg);
  found.grip.focus({ preventScroll: true });
  let last = Number(found.grip.getAttribute("aria-valuenow"));
  const move = (to) => {
    const { x, y } = place(svg, to);
    const angle = (Math.atan2(data.hinge[1] - y, x - data.hinge[0]) * 180) / Math.PI;
    const tilt = least(data.stops, (stop) => Math.abs(stop - (angle < -90 ? 90 : angle)));
    if (tilt !== last) draw(svg, (last = tilt));
  };
  follow(poses(svg), move, () => settle(last));
}

// A hole of the bar at another place: until the new figures come, the frame stands in it, or in the holes that stay.
function moveHole(svg, number, place) {
  const { data } = parts(svg);
  svg.stops = [...svg.stops.filter((pose) => pose.used !== number), place];
  data.stops = svg.stops.map((pose) => pose.tilt).sort((a, b) => a - b);
  data.built.several.base_holes[number] = place.at;
  draw(svg, place.tilt, place);
  const circle = svg.querySelector(`[data-bar="${number}"]`);
  circle.setAttribute("aria-valuenow", place.at);
  circle.setAttribute("aria-valuetext", `${formatLength(place.at, data.built.us)} from the hinge: ${degreesText(place.tilt)}`);
}

function writeHoles(svg) {
  const { built } = parts(svg).data;
  write("base_holes", built.several.base_holes.map((metres) => exact(metres, built.us)).join("; "));
}

const both = (svg, number) => Promise.all([poses(svg), poses(svg, number)]).then(([stops, places]) => stops && places);
const away = ([x, y], point) => Math.hypot(x - point.x, y - point.y);

function dragHole(circle) {
  const svg = circle.closest("svg");
  const { built } = parts(svg).data;
  const number = Number(circle.dataset.bar);
  circle.focus({ preventScroll: true });
  const before = built.several.base_holes[number];
  const move = (to, places) => {
    if (!places.length) return;
    const point = place(svg, to);
    const found = least(places, (one) => away(one.bar[number], point));
    if (found.at !== built.several.base_holes[number]) moveHole(svg, number, found);
  };
  poses(svg).then((stops) => {
    const held = stops?.find((pose) => pose.used === number);
    if (held && built.several.base_holes[number] === before) draw(svg, held.tilt, held);
  });
  follow(both(svg, number), move, () => built.several.base_holes[number] !== before && writeHoles(svg));
}

// By keys from place to place; the holes are written when they rest.
async function stepHole(circle, step) {
  const svg = circle.closest("svg");
  const number = Number(circle.dataset.bar);
  const places = await both(svg, number);
  if (!places?.length) return;
  const now = parts(svg).data.built.several.base_holes[number];
  const index = places.indexOf(least(places, (one) => Math.abs(one.at - now)));
  const next = places[index + step];
  if (!next) return;
  moveHole(svg, number, next);
  clearTimeout(svg.settling);
  svg.settling = setTimeout(() => writeHoles(svg), 600);
}

// The foot of the prop goes from hole to hole of its bar, and the frame with it.
function dragFoot(line) {
  const svg = line.closest("svg");
  const move = (to, stops) => {
    const point = place(svg, to);
    const held = stops.filter((pose) => pose.used !== null);
    if (!held.length) return;
    const near = least(held, (pose) => away(pose.bar[pose.used], point));
    draw(svg, near.tilt, near);
  };
  follow(poses(svg), move, () => {});
}

const ends = (pose) => pose.parts.actuator.match(/-?[\d.]+/g).map(Number);

// The jack as long as a hand pulls it, within its stroke.
function dragJack(line) {
  const svg = line.closest("svg");
  const move = (to, stops) => {
    const { x, y } = place(svg, to);
    const off = (pose) => {
      const [bx, by, ex, ey] = ends(pose);
      return Math.abs(Math.hypot(ex - bx, ey - by) - Math.hypot(x - bx, y - by));
    };
    const near = least(stops, off);
    draw(svg, near.tilt, near);
  };
  follow(poses(svg), move, () => settle(Number(parts(svg).found.grip.getAttribute("aria-valuenow"))));
}

// What a hand will need is there before it pulls.
for (const near of ["pointerover", "focusin"]) {
  document.addEventListener(near, (event) => {
    const svg = event.target.closest?.("svg.rack");
    if (!svg?.dataset.rackData) return;
    poses(svg);
    const hole = event.target.closest("[data-bar]");
    if (hole) poses(svg, Number(hole.dataset.bar));
  });
}

document.addEventListener("pointerdown", (event) => {
  const hole = event.target.closest("[data-bar]");
  const foot = event.target.closest('[data-part="prop"], [data-part="spreader"]');
  const jack = event.target.closest('[data-part="actuator"]');
  const hit = event.target.closest('[data-rack="grip"], [data-rack="panel"]');
  if (!hit && !hole && !foot && !jack) return;
  event.preventDefault();
  if (hole) dragHole(hole);
  else if (foot) dragFoot(foot);
  else if (jack) dragJack(jack);
  else dragPanel(hit);
});

document.addEventListener("click", (event) => {
  const taken = event.target.closest("[data-take-holes]");
  if (!taken) return;
  const prop = document.querySelector('#station-form [name="prop_lengths"]');
  if (taken.dataset.takeProp && prop) prop.value = taken.dataset.takeProp; // saved with the holes, in one
  write("base_holes", taken.dataset.takeHoles);
});

// A measure in the drawing is typed where it stands; of several holes, the one that is used. Enter and leaving take it, Escape does not.
let typing = null;
function typeMeasure(written, { number, label } = { number: written.dataset.number, label: written.getAttribute("aria-label") }, begun = null) {
  const field = document.querySelector(`#station-form [name="${written.dataset.asks}"]`);
  const gone = number !== undefined && number >= parts(written.closest("svg")).data.built.several[written.dataset.asks].length;
  if (!field || typing || gone) return;
  const frame = written.closest(".rack-frame");
  const [box, outer] = [written.getBoundingClientRect(), frame.getBoundingClientRect()];
  const input = document.createElement("input");
  Object.assign(input, { className: "form-control form-control-sm measure-typed", value: exactly(written, field, number), autocomplete: "off" });
  input.setAttribute("aria-label", label);
  input.style.left = `${Math.max(0, Math.min(box.left - outer.left - 8, outer.width - 110))}px`;
  input.style.top = `${box.top - outer.top - 6}px`;
  const close = (take, back) => {
    if (typing?.input !== input) return;
    typing = null;
    const typed = input.value.trim();
    input.remove();
    if (take && typed && typed !== exactly(written, field, number))
      write(field.name, number === undefined ? typed : replaced(written.closest("svg"), field, Number(number), typed));
    if (back) written.focus({ preventScroll: true });
  };
  input.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (event.key === "Enter") event.preventDefault();
    if (event.key === "Enter" || event.key === "Escape") close(event.key === "Enter", true);
  });
  input.addEventListener("blur", () => close(true, false));
  input.addEventListener("change", (event) => event.stopPropagation());
  typing = { input, close, name: written.dataset.written, of: { number, label } };
  frame.append(input);
  input.focus();
  input.select();
  if (begun !== null && begun !== input.value) input.value = begun;
}

// Figures may arrive while a measure is typed: the drawing is a new one, and what was begun goes on in it.
let begun = null;
document.addEventListener("htmx:beforeSwap", (event) => {
  if (!typing || !event.detail.target?.contains(typing.input)) return;
  begun = { name: typing.name, of: typing.of, value: typing.input.value };
  typing.close(false, false);
});
document.addEventListener("htmx:afterSwap", () => {
  const was = begun;
  begun = null;
  const written = was && document.querySelector(`[data-asks][data-written="${was.name}"]`);
  if (written) typeMeasure(written, was.of, was.value);
});

const exact = (metres, us) => (us ? `${Math.round((metres / INCH) * 100) / 100} in` : `${Math.round(metres * 10000) / 10000} m`);

// What a measure is before anything is typed: to the last digit that is told.
function exactly(written, field, number) {
  const { built } = parts(written.closest("svg")).data;
  return number === undefined ? field.value : exact(built.several[field.name][number], built.us);
}

// The lengths of a field with one of them typed anew.
function replaced(svg, field, number, typed) {
  const { built } = parts(svg).data;
  return built.several[field.name].map((metres, i) => (i === number ? typed : exact(metres, built.us))).join("; ");
}

document.addEventListener("click", (event) => {
  const written = event.target.closest("[data-asks]");
  if (written) typeMeasure(written);
});

document.addEventListener("keydown", (event) => {
  const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 };
  const circle = event.target.closest?.("[data-bar]");
  if (circle && event.key in steps) {
    event.preventDefault();
    stepHole(circle, steps[event.key]);
    return;
  }
  const written = event.target.closest?.("[data-asks]");
  if (written && (event.key === "Enter" || event.key === " ")) {
    event.preventDefault();
    return typeMeasure(written);
  }
  const grip = event.target.closest?.('[data-rack="grip"]');
  if (!grip || !(event.key in steps || event.key === "Home" || event.key === "End")) return;
  event.preventDefault();
  const svg = grip.closest("svg");
  poses(svg).then((found) => {
    if (!found) return;
    const { stops } = parts(svg).data;
    const now = stops.indexOf(least(stops, (stop) => Math.abs(stop - Number(grip.getAttribute("aria-valuenow")))));
    const next = event.key === "Home" ? 0 : event.key === "End" ? stops.length - 1 : Math.min(Math.max(now + steps[event.key], 0), stops.length - 1);
    draw(svg, stops[next]);
    clearTimeout(grip.settling);
    grip.settling = setTimeout(() => settle(stops[next]), 400);
  });
});

// Answers that share fields begin with measures of their own: what still stands as the last answer's changes with the answer.
document.addEventListener(
  "change",
  (event) => {
    const told = event.target.name === "built" && event.target.closest("[data-usual]");
    if (!told) return;
    const usual = JSON.parse(told.dataset.usual);
    const fieldOf = (name) => /** @type {any} */ (event.target.form).elements[name];
    const shown = (field) => (field.type === "checkbox" ? field.checked : field.value);
    const held = Object.values(usual).find((one) => Object.entries(one).every(([name, value]) => shown(fieldOf(name)) === value));
    for (const [name, value] of Object.entries((held && usual[event.target.value]) ?? {})) {
      const field = fieldOf(name);
      if (field.type === "checkbox") field.checked = value;
      else field.value = value;
    }
  },
  true, // before it is saved
);
