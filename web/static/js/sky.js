// The sky view: what is pointed at says which hours it takes; skyline readings are dragged, arrowed or typed.
import { one } from "./page.js";
import { yard } from "./yard.js";

let hold = null;
const round = (value) => Math.round(value * 10) / 10;

function place(event, svg) {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const [across, up] = svg.dataset.scale.split(",").map(Number);
  const azimuth = (Number(svg.dataset.middle) + (point.x - 340) / across + 720) % 360;
  return [round(azimuth), round(Math.min(90, Math.max(0, (268 - point.y) / up)))];
}
const said = (text) => (one("#sky-said").textContent = text);
function put(index, azimuth, elevation, kind) {
  yard.change((doc) => {
    const reading = doc.skyline[index];
    if (azimuth !== reading.azimuth) {
      delete reading.bearing; // no longer what the compass showed
      delete reading.declination;
    }
    reading.azimuth = azimuth;
    reading.elevation = elevation;
  }, kind);
}

document.addEventListener("pointerover", (event) => event.target.dataset?.said && event.target.closest("#sky") && said(event.target.dataset.said));
document.addEventListener("focusin", (event) => {
  if (event.target.dataset?.said && event.target.closest("#sky")) said(event.target.dataset.said);
  if (event.target.dataset?.reading) said(`${event.target.getAttribute("aria-valuetext")}. Arrows move it, Delete drops it.`);
});
document.addEventListener("pointerdown", (event) => {
  const dot = event.target.closest("#sky [data-reading]");
  if (!dot) return;
  event.preventDefault();
  dot.focus();
  hold = { dot, index: Number(dot.dataset.reading), svg: dot.ownerSVGElement };
  dot.setPointerCapture(event.pointerId);
});
document.addEventListener("pointermove", (event) => {
  if (!hold) return;
  hold.to = place(event, hold.svg);
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(hold.svg.getScreenCTM().inverse());
  hold.dot.setAttribute("cx", Math.min(646, Math.max(34, point.x)));
  hold.dot.setAttribute("cy", Math.min(268, Math.max(14, point.y)));
  said(`${hold.to[0]}°, ${hold.to[1]}° up`);
});
document.addEventListener("pointerup", () => {
  if (!hold) return;
  if (hold.to) put(hold.index, ...hold.to);
  hold = null;
});
document.addEventListener("keydown", (event) => {
  const dot = event.target.closest?.("#sky [data-reading]");
  if (!dot || event.ctrlKey) return;
  const index = Number(dot.dataset.reading);
  const reading = yard.doc.skyline[index];
  const step = event.shiftKey ? 5 : 0.5;
  const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
  if (by) put(index, round((reading.azimuth + by[0] + 360) % 360), round(Math.min(90, Math.max(0, reading.elevation + by[1]))), `reading ${index}`);
  else if (event.key === "Delete" || event.key === "Backspace") yard.change((doc) => doc.skyline.splice(index, 1));
  else return;
  yard.refocus = index;
  event.preventDefault();
  event.stopPropagation();
});
// The answer is drawn anew after a save: the reading that had the keyboard keeps it.
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target?.id !== "answer" || yard.refocus === undefined || yard.refocus === null) return;
  if (document.activeElement === document.body) one(`[data-reading="${yard.refocus}"]`)?.focus();
  yard.refocus = null;
});

const number = (text) => Number(String(text).replace(",", ".").replace(/[°\s]/g, ""));
document.addEventListener("change", (event) => {
  const row = event.target.closest("#readings [data-row]");
  const cell = event.target.dataset.cell;
  if (!row || !cell) return;
  const index = Number(row.dataset.row);
  if (cell === "kind") return yard.change((doc) => (doc.skyline[index].kind = event.target.value));
  const typed = number(event.target.value);
  const most = cell === "azimuth" ? 360 : 90;
  const bad = !Number.isFinite(typed) || typed < 0 || typed > most || event.target.value.trim() === "";
  event.target.toggleAttribute("aria-invalid", bad);
  if (bad) {
    event.target.setAttribute("aria-invalid", "true");
    return said(`Reading ${index + 1}: ${cell} runs from 0 to ${most} degrees.`);
  }
  const reading = yard.doc.skyline[index];
  put(index, cell === "azimuth" ? typed % 360 : reading.azimuth, cell === "elevation" ? typed : reading.elevation, "");
  return null;
});
document.addEventListener("click", (event) => {
  const drop = event.target.closest("#readings [data-drop]");
  if (drop) yard.change((doc) => doc.skyline.splice(Number(drop.dataset.drop), 1));
  const add = event.target.closest("#add-reading");
  if (!add) return;
  const field = (name) => one(`#readings [data-new="${name}"]`);
  const [bearing, elevation] = [number(field("bearing").value), number(field("elevation").value)];
  /** @type {[string, number, number][]} */
  const asked = [
    ["bearing", bearing, 360],
    ["elevation", elevation, 90],
  ];
  const wrong = asked.find(([name, value, most]) => field(name).value.trim() === "" || !Number.isFinite(value) || value < 0 || value > most);
  for (const name of ["bearing", "elevation"]) field(name).removeAttribute("aria-invalid");
  if (wrong) {
    field(wrong[0]).setAttribute("aria-invalid", "true");
    field(wrong[0]).focus();
    return said(`New reading: ${wrong[0]} runs from 0 to ${wrong[2]} degrees.`);
  }
  const declination = Number(add.dataset.declination);
  const magnetic = field("magnetic").checked;
  const reading = { azimuth: magnetic ? Math.round(((bearing + declination + 360) % 360) * 100) / 100 : bearing % 360, elevation, kind: field("kind").value };
  if (magnetic) Object.assign(reading, { bearing, declination: Math.round(declination * 100) / 100 });
  yard.change((doc) => {
    doc.skyline = doc.skyline.filter((r) => Math.abs(r.azimuth - reading.azimuth) > 0.005);
    doc.skyline.push(reading);
    doc.skyline.sort((a, b) => a.azimuth - b.azimuth);
  });
  return null;
});
