// The guided start: usual answers for what it stands on, while they are untouched, and a compass that can be turned.
import { all } from "./page.js";

const told = /** @type {HTMLElement|null} */ (document.querySelector("[data-usual-tilts]"));
const USUAL = JSON.parse(told?.dataset.usualTilts ?? "{}");
const tilt = /** @type {HTMLInputElement|null} */ (document.getElementById("id_tilt"));
let touched = Boolean(document.querySelector(".step-form .refusal:not(:empty)"));
tilt?.addEventListener("input", () => {
  touched = true;
});
document.addEventListener("change", (event) => {
  const chosen = /** @type {HTMLInputElement} */ (event.target);
  if (chosen.name !== "stand_on" || touched || !tilt || !chosen.closest(".step-form")) return;
  tilt.value = String(USUAL[chosen.value] ?? tilt.value);
});

for (const compass of all("[data-compass]")) {
  const field = /** @type {HTMLInputElement|null} */ (document.getElementById(`id_${compass.dataset.compass}`));
  const turned = compass.querySelector(".compass-turned");
  if (!field || !turned) continue;
  const shown = () => {
    const degrees = Number.parseFloat(field.value || field.placeholder);
    turned.setAttribute("transform", `rotate(${Number.isFinite(degrees) ? degrees : 180})`);
  };
  const turn = (event) => {
    const box = compass.getBoundingClientRect();
    const degrees = (Math.atan2(event.clientX - box.left - box.width / 2, box.top + box.height / 2 - event.clientY) * 180) / Math.PI;
    field.value = String((Math.round(degrees / 5) * 5 + 360) % 360);
    shown();
  };
  compass.addEventListener("pointerdown", (event) => {
    compass.setPointerCapture(event.pointerId);
    turn(event);
  });
  compass.addEventListener("pointermove", (event) => {
    if (compass.hasPointerCapture(event.pointerId)) turn(event);
  });
  compass.addEventListener("pointerup", () => field.dispatchEvent(new Event("change", { bubbles: true })));
  field.addEventListener("input", shown);
  shown();
}
