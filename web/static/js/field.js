// Skyline readings taken in the yard: each is kept in this phone first and sent when there is a connection.
import { csrfToken, one } from "./page.js";
import { canSense, sighted, watch } from "./sensor.js";

const page = () => one("#field");
const key = () => `field:${page().dataset.build}`;
const kept = () => JSON.parse(localStorage.getItem(key()) || "[]");
const keep = (readings) => localStorage.setItem(key(), JSON.stringify(readings));
let sending = false;

const number = (id, most) => {
  const text = one(`#f-${id}`).value.trim().replace(",", ".");
  const value = Number(text);
  const good = text !== "" && Number.isFinite(value) && value >= 0 && value <= most;
  one(`#e-${id}`).textContent = good ? "" : `Give degrees from 0 to ${most}.`;
  one(`#f-${id}`).toggleAttribute("aria-invalid", !good);
  return good ? value : null;
};
const line = (text, drop, waiting) => {
  const item = Object.assign(document.createElement("li"), { className: waiting ? "waiting" : "" });
  item.append(Object.assign(document.createElement("span"), { textContent: text }));
  const button = Object.assign(document.createElement("button"), { type: "button", className: "drop", textContent: "×" });
  button.setAttribute("aria-label", `Drop the reading at ${text.split(":")[0]}`);
  Object.assign(button.dataset, drop);
  item.append(button);
  return item;
};
const unsent = (r) => line(`${r.bearing}° ${r.magnetic ? "compass" : "true"}: ${r.elevation}° up, ${r.kind} (not sent yet)`, { key: r.key }, true);
const words = (reading) => `${Math.round(reading.azimuth * 10) / 10}°: ${reading.elevation}° up, ${reading.kind}`;
function state() {
  const waiting = kept().length;
  const noun = kept().some((entry) => entry.drop) ? "change" : "reading";
  one("#field-state").textContent = waiting
    ? `${waiting} ${noun}${waiting === 1 ? " is" : "s are"} kept in this phone and will be sent when there is a connection.`
    : "Everything is sent.";
}
function list(skyline) {
  const dropped = kept().filter((entry) => entry.drop);
  const left = skyline.filter((reading) => !dropped.some((entry) => Math.abs(entry.drop - reading.azimuth) < 0.006));
  one("#field-list").replaceChildren(
    ...left.map((reading) => line(words(reading), { drop: reading.azimuth })),
    ...kept()
      .filter((entry) => !entry.drop)
      .map(unsent),
  );
}

async function send() {
  if (sending) return;
  sending = true;
  try {
    while (kept().length) {
      const [reading] = kept();
      const answer = await fetch(page().dataset.post, {
        method: "POST",
        body: new URLSearchParams(reading),
        headers: { "X-CSRFToken": token(), "HX-Request": "true" },
      });
      if (answer.status === 422) {
        keep(kept().filter((entry) => entry.key !== reading.key)); // the server says it cannot be: told below, not tried for ever
        one("#field-state").textContent = Object.values((await answer.json()).errors).join(" ");
        break;
      }
      if (!answer.ok) {
        state();
        if (answer.status === 401) one("#field-state").textContent += " You were signed out: sign in again, nothing is lost.";
        break;
      }
      keep(kept().filter((entry) => entry.key !== reading.key));
      list((await answer.json()).skyline);
      state();
    }
  } catch {
    state();
  }
  sending = false;
}
const token = () => csrfToken() || one("[name=csrfmiddlewaretoken]").value;

document.addEventListener("DOMContentLoaded", () => {
  if (!page()) return;
  one("#field-form").addEventListener("submit", (event) => {
    event.preventDefault();
    const bearing = number("bearing", 360);
    const elevation = number("elevation", 90);
    if (bearing === null || elevation === null) return one(bearing === null ? "#f-bearing" : "#f-elevation").focus();
    const reading = {
      key: crypto.randomUUID?.() || `${Date.now().toString(16)}-${Math.floor(Math.random() * 1e9).toString(16)}`,
      bearing,
      elevation,
      magnetic: one("[name=magnetic]:checked").value,
      kind: one("[name=kind]:checked").value,
    };
    keep([...kept(), reading]);
    one("#field-list").append(unsent(reading));
    for (const id of ["bearing", "elevation"]) one(`#f-${id}`).value = "";
    one("#f-bearing").focus();
    send();
    return null;
  });
  // A reading taken back: at once if it was not sent yet, else with the next connection.
  one("#field-list").addEventListener("click", (event) => {
    const button = event.target.closest("button.drop");
    if (!button) return;
    const { key, drop } = button.dataset;
    if (key) keep(kept().filter((reading) => reading.key !== key));
    else keep([...kept(), { drop, key: `drop-${drop}` }]);
    button.closest("li").remove();
    one("#f-bearing").focus();
    state();
    send();
  });
  for (const entry of kept()) {
    if (entry.drop)
      [...one("#field-list").querySelectorAll("[data-drop]")]
        .find((button) => Math.abs(button.dataset.drop - entry.drop) < 0.006)
        ?.closest("li")
        .remove();
    else one("#field-list").append(unsent(entry));
  }
  if (kept().length) state();
  addEventListener("online", send);
  setInterval(send, 15000);
  send();
});

// Sighted along the phone: its compass reads magnetic north, like any other, and is turned to true as usual.
document.addEventListener("DOMContentLoaded", () => {
  const sight = one("#sight");
  if (!sight || !canSense()) return;
  sight.hidden = false;
  const [start, shown, take, said] = ["start", "shown", "take", "said"].map((name) => one(`[data-sight="${name}"]`, sight));
  let now = null;
  start.addEventListener("click", async () => {
    const told = await watch(sighted, ({ value, steady }) => {
      now = value;
      shown.textContent = `${value.bearing.toFixed(0)}° and ${value.elevation.toFixed(1)}° up, ${steady ? "steady" : "hold still…"}`;
      take.disabled = !steady || value.elevation < 0;
    });
    start.hidden = told;
    take.hidden = !told;
    if (!told) said.textContent = "The browser keeps its sensors to itself: type what compass and clinometer show.";
  });
  take.addEventListener("click", () => {
    one("#f-bearing").value = (Math.round(now.bearing * 10) / 10) % 360;
    one("#f-elevation").value = Math.round(now.elevation * 10) / 10;
    one('[name=magnetic][value="1"]').checked = true;
    said.textContent = `Kept: ${one("#f-bearing").value}° by the phone's compass, ${one("#f-elevation").value}° up.`;
    one("#field-form").requestSubmit();
    take.focus();
  });
});
