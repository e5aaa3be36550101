// What lies over the plan: shadows of the hour, the map of energy, the best spots, the person's own picture; files in.
import { all, csrfToken, el, html, one } from "./page.js";
import { yard } from "./yard.js";

const days = {};
let shown = null;
let playing;
let resting;

const compass = (azimuth) => ["N", "NE", "E", "SE", "S", "SW", "W", "NW"][Math.round(azimuth / 45) % 8];
const minutes = (clock) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));

async function day(number) {
  if (!days[number]) {
    const answer = await fetch(`${yard.section().dataset.day}?day=${number}`, { headers: { "HX-Request": "true" } });
    if (!answer.ok) return [];
    days[number] = (await answer.json()).frames;
  }
  return days[number];
}
function cast(layer, frame) {
  if (!layer) return;
  layer.replaceChildren(
    ...(frame
      ? [
          ...(frame.array ? [el("path", { class: "shadow own", d: frame.array })] : []),
          ...frame.shadows.map((s) => el("path", { class: s.light > 0.02 ? "shadow thin" : "shadow", d: s.d })),
        ]
      : []),
  );
}
async function showHour() {
  if (!shown?.length) return;
  const frame = shown[Number(one("#hour").value)] || shown[0];
  one("#hour-said").textContent = `${frame.clock}, sun ${Math.round(frame.elevation)}° up in the ${compass(frame.azimuth)}`;
  one("#hour").setAttribute("aria-valuetext", one("#hour-said").textContent);
  cast(yard.layers.shadows, frame);
  for (const mini of all("svg.mini")) {
    const frames = await day(mini.dataset.season);
    const near = frames.find((f) => minutes(f.clock) >= minutes(frame.clock) - 14 && minutes(f.clock) <= minutes(frame.clock) + 15);
    cast(one(".shadows", mini), near);
    const said = one(`[data-season-clock="${mini.dataset.season}"]`);
    said.textContent = near ? `${near.clock}, sun ${Math.round(near.elevation)}° up` : `${frame.clock}, the sun is down`;
    mini.classList.toggle("dark", !near);
  }
}
async function load(keep) {
  const number = one("#day")?.value ?? "0";
  const clock = keep && shown?.length ? shown[Number(one("#hour").value)]?.clock : null;
  shown = await day(number);
  const hour = one("#hour");
  hour.max = Math.max(0, shown.length - 1);
  hour.disabled = !shown.length;
  if (!shown.length) {
    one("#hour-said").textContent = "the sun stays down";
    return cast(yard.layers.shadows, null);
  }
  const wanted = shown.findIndex((frame) => minutes(frame.clock) >= minutes(clock || "10:00"));
  hour.value = wanted < 0 ? shown.length - 1 : wanted;
  return showHour();
}
const refresh = () => {
  for (const key of Object.keys(days)) delete days[key];
  one("#prices").setAttribute("aria-busy", "true");
  htmx.trigger("#prices", "prices-stale");
  htmx.trigger("#pitch", "pitch-stale");
  clearTimeout(resting);
  resting = setTimeout(() => {
    load(true);
    clearMap();
  }, 300);
};

function play() {
  const button = one("#play");
  const on = button.getAttribute("aria-pressed") !== "true";
  button.setAttribute("aria-pressed", String(on));
  button.firstChild.textContent = on ? "❚❚ " : "▶ ";
  button.querySelector("span").textContent = on ? "Stop" : "Play the day";
  clearInterval(playing);
  if (!on) return;
  const hour = one("#hour");
  if (hour.value === hour.max) hour.value = 0;
  playing = setInterval(
    () => {
      if (Number(hour.value) >= Number(hour.max)) return play();
      hour.value = Number(hour.value) + 1;
      return showHour();
    },
    matchMedia("(prefers-reduced-motion: reduce)").matches ? 900 : 260,
  );
}

// The map comes in strips, so that it is seen growing and nothing waits for it.
let mapRun = 0;
let mapAgain = false;
function clearMap() {
  mapRun++;
  yard.layers.map.replaceChildren();
  one("#map-progress").hidden = true;
  const chosen = one("[name=map]:checked")?.value;
  if (chosen) map();
}
async function map() {
  const run = ++mapRun;
  const season = one("[name=map]:checked").value;
  yard.layers.map.replaceChildren();
  one("#map-legend").hidden = true;
  const bar = one("#map-progress");
  bar.hidden = !season;
  if (!season) return;
  const drawn = new Set();
  for (let asked = 0, done = false; !done; asked++) {
    const answer = await fetch(`${yard.section().dataset.map}?season=${season}${asked || !mapAgain ? "" : "&again=1"}`, { headers: { "HX-Request": "true" } });
    if (run !== mapRun) return;
    const made = await answer.json();
    if (!answer.ok) {
      yard.say(made.error || "The map cannot be made.");
      break;
    }
    mapAgain = !made.done && !made.open;
    for (const [strip, found] of Object.entries(made.strips)) {
      if (drawn.has(strip)) continue;
      drawn.add(strip);
      paint(found);
    }
    bar.max = made.of;
    bar.value = drawn.size;
    done = made.done || !made.open;
    if (made.words) yard.say(`${made.words} Choose the map once more to try again.`, true);
    else if (made.later) yard.say("The workshop that makes maps is away just now: it comes later, by itself.");
    if (!done) await new Promise((resolve) => setTimeout(resolve, made.later ? 5000 : 300));
    if (run !== mapRun) return;
  }
  bar.hidden = true;
}
function paint(found) {
  if (one("#map-legend").hidden) {
    const swatch = (tone) => el("svg", { width: 18, height: 11, "aria-hidden": "true" }, el("rect", { class: `tone t${tone}`, width: 18, height: 11 }));
    const lines = found.legend.map((text, tone) => html("li", {}, swatch(tone), document.createTextNode(text)));
    one("#map-legend").replaceChildren(...lines, html("li", { text: found.unit }));
    one("#map-legend").hidden = false;
  }
  found.tones.forEach((d, tone) => d && yard.layers.map.append(el("path", { class: `tone t${tone}`, d })));
}

function marks() {
  const spots = all("[data-spot]");
  yard.layers.spots.replaceChildren(
    ...spots.map((line, index) => {
      const [x, y, azimuth] = line.dataset.spot.split(",").map(Number);
      const turn = (azimuth * Math.PI) / 180;
      const r = yard.px(11);
      return el(
        "g",
        { class: "spot" },
        el("circle", { cx: x, cy: -y, r }),
        el("path", { d: `M${x + Math.sin(turn) * r} ${-y - Math.cos(turn) * r}l${Math.sin(turn) * yard.px(8)} ${-Math.cos(turn) * yard.px(8)}` }),
        el("text", { x, y: -y, "font-size": yard.px(13), "text-anchor": "middle", "dominant-baseline": "central" }, document.createTextNode(String(index + 1))),
      );
    }),
  );
}

// A picture that was sent is drawn anew by a worker before it is shown.
async function drawnAnew(address) {
  const said = one("#file-said");
  for (;;) {
    const answer = await fetch(address);
    const found = answer.ok ? await answer.json() : { error: "The picture could not be kept." };
    if (!found.waiting) {
      said.textContent = found.error || "";
      return found.error ? null : found;
    }
    said.textContent = found.later ? "The workshop that draws pictures is away just now: it comes later, by itself." : "The picture is being prepared…";
    await new Promise((resolve) => setTimeout(resolve, found.later ? 4000 : 400));
  }
}

function picture() {
  const file = one("#picture-file");
  const tools = one("#picture-tools");
  const place = () => yard.doc.picture;
  yard.listen(() => (tools.hidden = !place()));
  tools.hidden = !place();
  file.addEventListener("change", async () => {
    if (!file.files[0]) return;
    const sent = await send(yard.section().dataset.picture, file);
    const found = sent && (await drawnAnew(sent.wait));
    if (!found) return;
    const [x, y, w] = yard.view;
    yard.change(
      (doc) =>
        (doc.picture = {
          x: Math.round(x),
          y: Math.round(-y),
          width: found.width,
          height: found.height,
          scale: Math.round((w / found.width) * 10000) / 10000,
          version: Date.now() % 1e6,
        }),
    );
  });
  one("#picture-drop").addEventListener("click", async () => {
    yard.change((doc) => (doc.picture = null));
    const body = new FormData();
    body.set("drop", "1");
    await fetch(yard.section().dataset.picture, { method: "POST", body, headers: { "X-CSRFToken": csrfToken() } });
  });
  let clicks = [];
  one("#picture-scale").addEventListener("click", () => {
    clicks = [];
    yard.arm("scale");
  });
  yard.scaleClick = (point) => {
    clicks.push(point);
    if (clicks.length < 2) return yard.say("And the second point.");
    yard.arm(null);
    const typed = one("#picture-distance").value;
    const metres = yard.number(typed);
    const drawn = Math.hypot(clicks[1][0] - clicks[0][0], clicks[1][1] - clicks[0][1]);
    if (!(metres > 0) || drawn < 0.01) return yard.say("Give the distance between the two points first, more than 0.");
    const factor = metres / drawn;
    yard.change((doc) => {
      const p = doc.picture;
      doc.picture = { ...p, scale: p.scale * factor, x: clicks[0][0] - (clicks[0][0] - p.x) * factor, y: clicks[0][1] - (clicks[0][1] - p.y) * factor };
    });
    return yard.say(`The picture is to scale now: ${yard.metres(metres)} between the two points.`);
  };
}

// Only what can be done with a thing is offered: a house is not thinned, a far hill not lowered.
function offer() {
  const form = one(".what-if");
  if (!form) return;
  const ways = one("#what-name").selectedOptions[0]?.dataset.ways.split(" ") || [];
  const choices = all("[name=way]", form);
  for (const choice of choices) choice.disabled = !ways.includes(choice.value);
  if (choices.some((choice) => choice.checked && choice.disabled)) choices[0].checked = true;
}
function tryOut(name) {
  one("#what-name").value = name;
  if (yard.thing(name)) yard.select(name);
  offer();
  htmx.trigger(".what-if", "submit");
  one("#what-name").focus();
}

async function send(url, input) {
  const body = new FormData();
  body.set("file", input.files[0]);
  const said = one("#file-said");
  said.textContent = "";
  try {
    const answer = await fetch(url, { method: "POST", body, headers: { "X-CSRFToken": csrfToken() } });
    const text = await answer.text();
    const found = text.startsWith("{") ? JSON.parse(text) : { error: text };
    if (!answer.ok || found.error) {
      said.textContent = found.error || "That did not work.";
      return null;
    }
    if (found.told?.length) yard.say(found.told.join(" "));
    return found;
  } catch {
    said.textContent = "The server cannot be reached; try again in a moment.";
    return null;
  } finally {
    input.value = "";
  }
}

yard.listen((what) => {
  if (!yard.section()) return;
  marks();
  if (what === "saved") refresh();
});
document.addEventListener("DOMContentLoaded", () => {
  if (!yard.section()) return;
  load();
  picture();
  one("#hour").addEventListener("input", showHour);
  one("#play").addEventListener("click", play);
  for (const choice of all("[name=map]")) choice.addEventListener("change", map);
  one("#geojson-file").addEventListener("change", async (event) => {
    const found = event.target.files[0] && (await send(yard.section().dataset.geojson, event.target));
    if (found)
      yard.change((doc) =>
        doc.objects.push(
          ...found.objects.map((thing) => ({ ...thing, name: doc.objects.some((t) => t.name === thing.name) ? yard.fresh(thing.name) : thing.name })),
        ),
      );
  });
  one("#skyline-file").addEventListener("change", async (event) => {
    const found = event.target.files[0] && (await send(yard.section().dataset.skyline, event.target));
    if (found) yard.change((doc) => (doc.skyline = found.skyline));
  });
  // The price list is made anew after every change: what was being tried stays as it was chosen.
  let tried = null;
  document.addEventListener("htmx:beforeSwap", (event) => {
    const form = event.detail.target?.id === "prices" && one(".what-if");
    if (form) tried = [...new FormData(form)];
  });
  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.detail.target?.id === "prices") one("#prices").removeAttribute("aria-busy");
    const form = tried && one(".what-if");
    if (!form) return offer();
    for (const [name, value] of tried) {
      for (const field of all(`[name="${name}"]`, form)) {
        if (field.type === "radio") field.checked = field.value === value;
        else if (field.tagName !== "SELECT" || [...field.options].some((option) => option.value === value)) field.value = value;
      }
    }
    tried = null;
    return offer();
  });
  document.addEventListener("change", (event) => event.target.id === "what-name" && offer(), true);
  document.addEventListener("htmx:configRequest", (event) => {
    if (event.detail.elt.id === "find") event.detail.parameters.season = one("[name=find-for]:checked").value;
  });
  document.addEventListener(
    "htmx:beforeRequest",
    (event) => event.detail.elt.id === "find" && (one("#spots").textContent = "Looking: every place in the yard, nine ways to face…"),
  );
  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.detail.target?.id === "spots") marks();
    if (event.detail.target?.id !== "answer") return;
    load(true);
    htmx.trigger("#pitch", "pitch-stale");
  });
  document.addEventListener("click", (event) => {
    const attempt = event.target.closest("[data-try]");
    if (attempt) return tryOut(attempt.dataset.try);
    const stand = event.target.closest("[data-stand]");
    if (!stand) return;
    const [x, y, azimuth] = stand.closest("[data-spot]").dataset.spot.split(",").map(Number);
    yard.change((doc) => Object.assign(doc, { x, y, azimuth }));
    return yard.select("array");
  });
});
