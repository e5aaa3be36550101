// The run sheet on the phone: what comes next and in how many minutes, a stopwatch that survives a reload, and what was typed and not sent.
import { all, one } from "./page.js";

const key = () => `trial:${one("[data-trial]")?.dataset.trial}`;
const held = () => JSON.parse(localStorage.getItem(key()) || "{}");
const hold = (more) => localStorage.setItem(key(), JSON.stringify({ ...held(), ...more }));
const told = (minutes) => (minutes < 60 ? `${Math.max(1, Math.round(minutes))} min` : `${Math.floor(minutes / 60)} h ${Math.round(minutes % 60)} min`);

function tick() {
  const place = one("[data-steps]");
  if (place) {
    const steps = all("[data-at]");
    const now = Date.now();
    const next = steps.find((step) => Date.parse(step.dataset.at) > now);
    for (const step of steps) {
      step.classList.toggle("past", Date.parse(step.dataset.at) <= now);
      step.classList.toggle("next", step === next);
    }
    const minutes = next ? (Date.parse(next.dataset.at) - now) / 60000 : 0;
    const words = next && minutes < 1440 ? `Next at ${next.querySelector("time").textContent}, in ${told(minutes)}.` : "";
    if (place.textContent !== words) place.textContent = words;
  }
  const button = one("[data-stopwatch]");
  const since = held().since;
  if (button) button.textContent = since ? `Stop now: ${told((Date.now() - since) / 60000)} so far` : "Start now";
}

function fields() {
  return all("[data-repeat] :is(input, select):not([type=hidden])");
}

document.addEventListener("DOMContentLoaded", () => {
  const form = one("[data-repeat]");
  if (!form) return;
  const typed = held().typed || {};
  if (!one(".refusal[role=alert]", form))
    for (const field of fields()) if (typed[field.name] && !["on", "order"].includes(field.name)) field.value = typed[field.name];
  form.addEventListener("input", () => hold({ typed: Object.fromEntries(fields().map((field) => [field.name, field.value])) }));
  form.addEventListener("submit", () => hold({ typed: {}, since: null }));
  one("[data-stopwatch]").addEventListener("click", () => {
    const since = held().since;
    if (since) {
      const hours = form.elements.hours;
      hours.value = Math.max(0.01, (Date.now() - since) / 3600000).toFixed(2);
      hours.dispatchEvent(new Event("input", { bubbles: true }));
      hold({ since: null });
      form.elements.a.focus();
    } else hold({ since: Date.now() });
    tick();
  });
  tick();
  setInterval(tick, 15000);
});
