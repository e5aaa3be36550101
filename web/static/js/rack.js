// The rack from the side: drag the panel (or arrow its grip) to any tilt the frame reaches, or a hole along its bar: parts and
// energies follow at once, from the same geometry as the core's (side.js).
import { formatLength, INCH } from "./lengths.js";
import { dimensionLine, dimensions, jackLength, sideLines, tiltOf } from "./side.js";

const rad = (degrees) => (degrees * Math.PI) / 180;
const at = (x, y) => `${x.toFixed(1)} ${y.toFixed(1)}`;
const degreesText = (tilt) => `${Math.abs(tilt - Math.round(tilt)) > 0.05 ? tilt.toFixed(1) : Math.round(tilt)}°`;
const kwh = (value) => Math.round(value).toString().replace(/\B(?=(\d{3})+$)/g, "\u2009");

function parts(svg) {
  const found = {};
  for (const element of svg.closest(".fig").querySelectorAll("[data-rack]")) found[element.dataset.rack] = element;
  svg.rack ??= JSON.parse(svg.dataset.rackData);
  return { data: svg.rack, found };
}

function nearest(values, wanted) {
  return values.reduce((best, value) => (Math.abs(value - wanted) < Math.abs(best - wanted) ? value : best));
}

// A value between the surface's tilts, straight from one to the next.
function between(tilts, values, tilt) {
  const after = tilts.findIndex((one) => one >= tilt);
  if (after <= 0) return values[after === 0 ? 0 : values.length - 1];
  const share = (tilt - tilts[after - 1]) / (tilts[after] - tilts[after - 1]);
  return values[after - 1] * (1 - share) + values[after] * share;
}

// The hole of a built frame that sets a tilt: as it is told, or as a hand has just moved it.
function holeAt(built, tilt) {
  if (!built.holes.length) return { tilt, by: {} };
  return built.holes.reduce((best, one) => (Math.abs(one.true - tilt) < Math.abs(best.true - tilt) ? one : best));
}

const pixels = (built) => (point) => [built.origin[0] + point[0] * built.scale, built.origin[1] - point[1] * built.scale];

// The frame's own parts at one of its holes; gives the glass in pixels.
function drawBuilt(svg, built, hole) {
  const px = pixels(built);
  const lines = sideLines(built.frame, hole.tilt, built.length, hole.by);
  for (const line of lines) {
    const [start, end] = [px(line.start), px(line.end)];
    svg.querySelector(`[data-part="${line.name}"]`)?.setAttribute("d", `M${at(...start)}L${at(...end)}`);
  }
  for (const one of dimensions(built.frame, hole.tilt, built.length, hole.by)) {
    const written = svg.querySelector(`[data-written="${one.name}"]`);
    if (!written) continue;
    const drawn = dimensionLine(px(one.start), px(one.end), one.side);
    svg.querySelector(`[data-dim="${one.name}"]`).setAttribute("d", drawn.d);
    for (const [name, value] of [["x", drawn.x], ["y", drawn.y], ["text-anchor", drawn.anchor]]) written.setAttribute(name, value);
    if (one.number !== null) written.dataset.number = one.number;
    const metres = Math.hypot(one.end[0] - one.start[0], one.end[1] - one.start[1]);
    written.textContent = built.us ? formatLength(metres, true) : `${metres.toFixed(2)} m`;
  }
  const bar = lines.find((line) => line.name === "base bar" || line.name === "back leg");
  if (bar) {
    const whole = Math.hypot(bar.end[0] - bar.start[0], bar.end[1] - bar.start[1]);
    for (const circle of svg.querySelectorAll("[data-bar]")) {
      const share = built.frame.base_holes[circle.dataset.bar] / whole;
      const [x, y] = px([0, 1].map((i) => bar.start[i] + (bar.end[i] - bar.start[i]) * share));
      circle.setAttribute("cx", x.toFixed(1));
      circle.setAttribute("cy", y.toFixed(1));
      circle.classList.toggle("used", built.frame.base_holes[circle.dataset.bar] === hole.by.base_hole);
    }
  }
  return [px(lines[0].start), px(lines[0].end)];
}

function draw(svg, tilt) {
  const { data, found } = parts(svg);
  const [x, y] = data.hinge;
  let point = (along) => {
    const reach = (along - data.share) * data.length;
    return [x + reach * Math.cos(rad(tilt)), y - reach * Math.sin(rad(tilt))];
  };
  if (data.built) {
    const [low, high] = drawBuilt(svg, data.built, holeAt(data.built, tilt));
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

function follow(move, done) {
  const up = () => {
    document.removeEventListener("pointermove", move);
    document.removeEventListener("pointerup", up);
    done();
  };
  document.addEventListener("pointermove", move);
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
    const tilt = nearest(data.stops, angle < -90 ? 90 : angle);
    if (tilt !== last) draw(svg, (last = tilt));
  };
  follow(move, () => settle(last));
}

// A hole of the bar put ``metres`` from the hinge: the holes it belongs to set other tilts, and the frame stands in one of them.
function moveHole(svg, number, metres) {
  const { built } = parts(svg).data;
  const old = built.frame.base_holes[number];
  const moved = built.holes.filter((hole) => hole.by.base_hole === old);
  const trial = moved.map((hole) => tiltOf(built.frame, { ...hole.by, base_hole: metres }));
  if (!moved.length || trial.some((tilt) => tilt === null || tilt < 0 || tilt > 90)) return false;
  moved.forEach((hole, i) => {
    hole.by.base_hole = metres;
    hole.true += trial[i] - hole.tilt; // ground that falls sideways adds what it added before
    hole.tilt = trial[i];
  });
  built.frame.base_holes[number] = metres;
  parts(svg).data.stops = built.holes.map((hole) => hole.true).sort((a, b) => a - b);
  draw(svg, moved[0].true);
  const circle = svg.querySelector(`[data-bar="${number}"]`);
  circle.setAttribute("aria-valuenow", metres);
  circle.setAttribute("aria-valuetext", `${formatLength(metres, built.us)} from the hinge: ${degreesText(moved[0].true)}`);
  return true;
}

function writeHoles(svg) {
  const { built } = parts(svg).data;
  write("base_holes", built.frame.base_holes.map((metres) => exact(metres, built.us)).join("; "));
}

// A drill is set by whole centimetres, or quarter inches.
const drilled = (metres, us) => (us ? (Math.round((metres / INCH) * 4) / 4) * INCH : Math.round(metres * 100) / 100);

function dragHole(circle) {
  const svg = circle.closest("svg");
  const { built } = parts(svg).data;
  const number = Number(circle.dataset.bar);
  circle.focus({ preventScroll: true });
  const before = built.frame.base_holes[number];
  const start = pixels(built)([0, built.frame.front_height]);
  const hole = built.holes.find((one) => one.by.base_hole === before);
  if (hole) draw(svg, hole.true);
  const back = svg.querySelector('[data-part="back leg"]');
  const move = (to) => {
    const { x, y } = place(svg, to);
    // Along the bar from its hinge; of an A-frame along its back leg, from the top.
    const [from, toward] = back
      ? (([a, b, c, d]) => [[a, b], [c - a, d - b]])(back.getAttribute("d").match(/-?[\d.]+/g).map(Number))
      : [start, [Math.cos(rad(built.frame.slope)), -Math.sin(rad(built.frame.slope))]];
    const along = ((x - from[0]) * toward[0] + (y - from[1]) * toward[1]) / Math.hypot(...toward) / built.scale;
    const metres = drilled(along, built.us);
    if (metres >= 0.05 && metres !== built.frame.base_holes[number] && !built.frame.base_holes.includes(metres)) moveHole(svg, number, metres);
  };
  follow(move, () => built.frame.base_holes[number] !== before && writeHoles(svg));
}

// The foot of the prop goes from hole to hole of its bar, and the frame with it.
function dragFoot(line) {
  const svg = line.closest("svg");
  const { built } = parts(svg).data;
  const move = (to) => {
    const { x, y } = place(svg, to);
    const near = [...svg.querySelectorAll("[data-bar]")].reduce((best, circle) => {
      const away = Math.hypot(circle.getAttribute("cx") - x, circle.getAttribute("cy") - y);
      return away < best.away ? { away, at: built.frame.base_holes[circle.dataset.bar] } : best;
    }, { away: Number.POSITIVE_INFINITY });
    const hole = built.holes.find((one) => one.by.base_hole === near.at);
    if (hole) draw(svg, hole.true);
  };
  follow(move, () => {});
}

// The jack as long as a hand pulls it, within its stroke.
function dragJack(line) {
  const svg = line.closest("svg");
  const { data } = parts(svg);
  const { built } = data;
  const base = sideLines(built.frame, 20, built.length).find((one) => one.name === "actuator").start;
  const move = (to) => {
    const { x, y } = place(svg, to);
    const [bx, by] = pixels(built)(base);
    const wanted = Math.hypot(x - bx, y - by) / built.scale;
    const away = (tilt) => Math.abs(jackLength(built.frame.screw ?? built.frame, tilt) - wanted);
    draw(svg, data.stops.reduce((best, tilt) => (away(tilt) < away(best) ? tilt : best)));
  };
  follow(move, () => settle(Number(parts(svg).found.grip.getAttribute("aria-valuenow"))));
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
  const gone = number !== undefined && number >= severalOf(parts(written.closest("svg")).data.built, written.dataset.asks).length;
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
    if (take && typed && typed !== exactly(written, field, number)) write(field.name, number === undefined ? typed : replaced(written.closest("svg"), field, Number(number), typed));
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
const severalOf = (built, name) => ({ rail_points: built.frame.rail_points, prop_lengths: built.frame.lengths, base_holes: built.frame.base_holes, rear_heights: built.frame.rear_heights })[name];

// What a measure is before anything is typed: to the last digit that is told.
function exactly(written, field, number) {
  const { built } = parts(written.closest("svg")).data;
  return number === undefined ? field.value : exact(severalOf(built, field.name)[number], built.us);
}

// The lengths of a field with one of them typed anew.
function replaced(svg, field, number, typed) {
  const { built } = parts(svg).data;
  return severalOf(built, field.name).map((metres, i) => (i === number ? typed : exact(metres, built.us))).join("; ");
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
    const svg = circle.closest("svg");
    const number = Number(circle.dataset.bar);
    const { built } = parts(svg).data;
    if (!moveHole(svg, number, drilled(built.frame.base_holes[number] + steps[event.key] * (built.us ? INCH / 4 : 0.01), built.us))) return;
    clearTimeout(svg.settling);
    svg.settling = setTimeout(() => writeHoles(svg), 600);
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
  const { stops } = parts(svg).data;
  const now = stops.indexOf(nearest(stops, Number(grip.getAttribute("aria-valuenow"))));
  const next = event.key === "Home" ? 0 : event.key === "End" ? stops.length - 1 : Math.min(Math.max(now + steps[event.key], 0), stops.length - 1);
  draw(svg, stops[next]);
  clearTimeout(grip.settling);
  grip.settling = setTimeout(() => settle(stops[next]), 400);
});
