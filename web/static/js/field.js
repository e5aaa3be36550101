// Skyline readings taken in the yard: each is kept in this phone first and sent when there is a connection.
(() => {
  const one = (selector) => document.querySelector(selector);
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
  const words = (reading) => `${Math.round(reading.azimuth * 10) / 10}°: ${reading.elevation}° up, ${reading.kind}`;
  function state() {
    const waiting = kept().length;
    one("#field-state").textContent = waiting ? `${waiting} ${waiting === 1 ? "reading is" : "readings are"} kept in this phone and will be sent when there is a connection.` : "Everything is sent.";
  }
  function list(skyline) {
    const line = (text, on) => Object.assign(document.createElement("li"), { textContent: text, className: on ? "waiting" : "" });
    one("#field-list").replaceChildren(...skyline.map((reading) => line(words(reading))), ...kept().map((r) => line(`${r.bearing}° ${r.magnetic ? "compass" : "true"}: ${r.elevation}° up, ${r.kind} (not sent yet)`, true)));
  }

  async function send() {
    if (sending) return;
    sending = true;
    try {
      while (kept().length) {
        const [reading] = kept();
        const answer = await fetch(page().dataset.post, { method: "POST", body: new URLSearchParams(reading), headers: { "X-CSRFToken": token(), "HX-Request": "true" } });
        if (answer.status === 422) {
          keep(kept().slice(1)); // the server says it cannot be: told below, not tried for ever
          one("#field-state").textContent = Object.values((await answer.json()).errors).join(" ");
          break;
        }
        if (!answer.ok) {
          state();
          if (answer.status === 401) one("#field-state").textContent += " You were signed out: sign in again, nothing is lost.";
          break;
        }
        keep(kept().slice(1));
        list((await answer.json()).skyline);
        state();
      }
    } catch {
      state();
    }
    sending = false;
  }
  const token = () => window.csrfToken?.() || one("[name=csrfmiddlewaretoken]").value;

  document.addEventListener("DOMContentLoaded", () => {
    if (!page()) return;
    one("#field-form").addEventListener("submit", (event) => {
      event.preventDefault();
      const bearing = number("bearing", 360);
      const elevation = number("elevation", 90);
      if (bearing === null || elevation === null) return one(bearing === null ? "#f-bearing" : "#f-elevation").focus();
      const reading = { key: crypto.randomUUID?.() || `${Date.now().toString(16)}-${Math.floor(Math.random() * 1e9).toString(16)}`, bearing, elevation, magnetic: one("[name=magnetic]:checked").value, kind: one("[name=kind]:checked").value };
      keep([...kept(), reading]);
      const item = document.createElement("li");
      item.className = "waiting";
      item.textContent = `${bearing}° ${reading.magnetic ? "compass" : "true"}: ${elevation}° up, ${reading.kind} (not sent yet)`;
      one("#field-list").append(item);
      for (const id of ["bearing", "elevation"]) one(`#f-${id}`).value = "";
      one("#f-bearing").focus();
      send();
      return null;
    });
    if (kept().length) state();
    addEventListener("online", send);
    setInterval(send, 15000);
    send();
  });
})();
