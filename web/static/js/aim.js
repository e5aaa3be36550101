// Aiming: how long until solar noon, and the phone laid on the glass as its level.
import { one } from "./page.js";
import { canSense, planeTilt, watch } from "./sensor.js";

const place = one("#countdown");

function count() {
  const minutes = Math.round((new Date(place.dataset.noon).getTime() - Date.now()) / 60000);
  const [hours, rest] = [Math.floor(Math.abs(minutes) / 60), Math.abs(minutes) % 60];
  const span = `${hours ? `${hours} h ` : ""}${rest} min`;
  place.textContent = minutes > 0 ? `, in ${span}` : minutes > -1 ? ", now" : `, ${span} ago`;
}
if (place) {
  count();
  setInterval(count, 20000);
}

// Two readings, the phone turned half round between them: its own error shows with either sign, and their mean is free of it.
const level = one("#level");
if (level && canSense()) {
  level.hidden = false;
  const [start, shown, take, said] = ["start", "shown", "take", "said"].map((name) => one(`[data-level="${name}"]`, level));
  const taken = [];
  let now = null;
  start.addEventListener("click", async () => {
    const told = await watch(
      (event) => ({ tilt: planeTilt(event) }),
      ({ value, steady }) => {
        now = value.tilt;
        shown.textContent = `${now.toFixed(1)}° ${steady ? "steady" : "hold still…"}`;
        take.disabled = !steady;
      },
    );
    start.hidden = told;
    take.hidden = !told;
    said.textContent = told ? "Lay it on the glass, screen up." : "The browser keeps its sensors to itself: type what a level shows.";
  });
  take.addEventListener("click", () => {
    taken.push(now);
    if (taken.length === 1) {
      said.textContent = `First reading ${now.toFixed(1)}°. Turn the phone half round where it lies, and take the second.`;
      return;
    }
    const mean = (taken[0] + taken[1]) / 2;
    const own = Math.abs(taken[0] - taken[1]) / 2;
    said.textContent = `${taken.map((tilt) => `${tilt.toFixed(1)}°`).join(" and ")}: the glass stands at ${mean.toFixed(1)}°; the phone itself is off by ${own.toFixed(1)}°.`;
    one('[name="tilt"]').value = mean.toFixed(1);
    one('[name="sensor"]').value = JSON.stringify(taken.splice(0).map((tilt) => Math.round(tilt * 100) / 100));
  });
}
