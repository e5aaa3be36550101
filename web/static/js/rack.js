// The rack from the side: drag the panel (or arrow its grip) to any tilt the frame reaches; the energies follow.
const rad = (degrees) => (degrees * Math.PI) / 180;
const at = (x, y) => `${x.toFixed(1)} ${y.toFixed(1)}`;
const degreesText = (tilt) => `${Math.abs(tilt - Math.round(tilt)) > 0.05 ? tilt.toFixed(1) : Math.round(tilt)}°`;
const kwh = (value) => Math.round(value).toString().replace(/\B(?=(\d{3})+$)/g, "\u2009");

function parts(svg) {
  const found = {};
  for (const element of svg.closest(".fig").querySelectorAll("[data-rack]")) found[element.dataset.rack] = element;
  return { data: JSON.parse(svg.dataset.rackData), found };
}

function nearest(values, wanted) {
  return values.reduce((best, value) => (Math.abs(value - wanted) < Math.abs(best - wanted) ? value : best));
}

function draw(svg, tilt) {
  const { data, found } = parts(svg);
  const [x, y] = data.hinge;
  const point = (along) => {
    const reach = (along - data.share) * data.length;
    return [x + reach * Math.cos(rad(tilt)), y - reach * Math.sin(rad(tilt))];
  };
  const top = point(1);
  found.panel.setAttribute("d", `M${at(...point(0))}L${at(...top)}`);
  found.grip.setAttribute("cx", top[0].toFixed(1));
  found.grip.setAttribute("cy", top[1].toFixed(1));
  if (found.leg) {
    const foot = point(0.75);
    found.leg.setAttribute("d", `M${at(...foot)}V${data.ground}`);
  }
  found.arc.setAttribute("d", `M${at(x + 46, y)} A46 46 0 0 0 ${at(x + 46 * Math.cos(rad(tilt)), y - 46 * Math.sin(rad(tilt)))}`);
  if (!data.share) {
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
  const index = data.tilts.indexOf(nearest(data.tilts, tilt));
  found["tilt-text"].textContent = degreesText(tilt);
  found.day.textContent = data.day[index].toFixed(1);
  found.year.textContent = kwh(data.year[index]);
  if (found.incidence) found.incidence.textContent = degreesText(data.incidence[index]);
  found.grip.setAttribute("aria-valuenow", tilt);
  found.grip.setAttribute("aria-valuetext", `${degreesText(tilt)}: ${data.day[index].toFixed(1)} kWh that day, ${kwh(data.year[index])} kWh if it stayed all year`);
}

// A fixed mount has one tilt: letting go of the panel writes it into its field.
function settle(tilt) {
  const kind = document.querySelector('#station-form [name="kind"]');
  const field = document.querySelector('#station-form [name="tilt"]');
  if (kind?.value !== "fixed" || !field || Number(field.value) === tilt) return;
  field.value = tilt;
  field.dispatchEvent(new Event("change", { bubbles: true }));
}

document.addEventListener("pointerdown", (event) => {
  const hit = event.target.closest('[data-rack="grip"], [data-rack="panel"]');
  if (!hit) return;
  event.preventDefault();
  const svg = hit.closest("svg");
  const { data, found } = parts(svg);
  found.grip.focus({ preventScroll: true });
  let last = Number(found.grip.getAttribute("aria-valuenow"));
  const move = (to) => {
    const place = new DOMPoint(to.clientX, to.clientY).matrixTransform(svg.getScreenCTM().inverse());
    const angle = (Math.atan2(data.hinge[1] - place.y, place.x - data.hinge[0]) * 180) / Math.PI;
    const tilt = nearest(data.stops, angle < -90 ? 90 : angle);
    if (tilt !== last) draw(svg, (last = tilt));
  };
  const up = () => {
    document.removeEventListener("pointermove", move);
    document.removeEventListener("pointerup", up);
    settle(last);
  };
  document.addEventListener("pointermove", move);
  document.addEventListener("pointerup", up);
});

document.addEventListener("keydown", (event) => {
  const grip = event.target.closest?.('[data-rack="grip"]');
  const steps = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 };
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
