// The plan drawn: grid, things, the array, handles of what is selected, the scale bar. One metre is one unit, north up.
import { boundaryLines, boundsCentre, ringsOfArray } from "./geometry.js";
import { el, one } from "./page.js";
import { yard } from "./yard.js";

const layers = {};
yard.layers = layers;
yard.unit = 0.03; // metres of one pixel, set with the window

const at = ([x, y]) => [yard.number(x), -yard.number(y)];
const path = (points, close) =>
  `M${points
    .map((point) =>
      at(point)
        .map((v) => v.toFixed(3))
        .join(" "),
    )
    .join("L")}${close ? "Z" : ""}`;
yard.path = path;
const px = (count) => count * yard.unit;
yard.px = px;

yard.centre = (thing) => boundsCentre(yard.points(thing).map(([x, y]) => [yard.number(x), yard.number(y)]));
yard.azimuth = () => (yard.doc.azimuth === null || yard.doc.azimuth === undefined ? (yard.section().dataset.south ? 0 : 180) : yard.number(yard.doc.azimuth));

yard.arrayRings = () => {
  const [wide, deep, pivot] = yard.size;
  const groups = yard.doc.split ? yard.number(yard.doc.split.groups, 1) : 1;
  const split = groups > 1 ? { groups, how: yard.doc.split.how, distance: yard.number(yard.doc.split.distance) } : {};
  return ringsOfArray({ at: [yard.number(yard.doc.x), yard.number(yard.doc.y)], azimuth: yard.azimuth(), wide, deep, pivot, ...split });
};

function words(thing) {
  const [x, y] = yard.centre(thing);
  const kind = { building: "house", tree: "tree", wall: "wall", fence: "fence", post: "post", rail: "rail", array: "other panels" }[thing.kind];
  return `${thing.name}, ${kind}, ${yard.metres(yard.height(thing))} high, ${yard.metres(Math.abs(x))} ${x < 0 ? "west" : "east"}, ${yard.metres(Math.abs(y))} ${y < 0 ? "south" : "north"}`;
}

// Glass of another array in plan, at its flattest.
function glass(thing) {
  const flat = Math.min(...[thing.tilt].flat().map((tilt) => Math.abs(yard.number(tilt))));
  const [x, y] = thing.at;
  return ringsOfArray({
    at: [yard.number(x), yard.number(y)],
    azimuth: yard.number(thing.azimuth, 180),
    wide: yard.number(thing.breadth, 1),
    deep: yard.number(thing.slope_length, 1) * Math.cos((flat * Math.PI) / 180),
    pivot: thing.on_pole,
  })[0];
}
function fellow(thing) {
  return el(
    "g",
    { class: "fellow", role: "img", "aria-label": `${thing.name}, another of your frames` },
    el("path", { class: "panels", d: path(glass(thing), true) }),
  );
}

function ownHouse(thing) {
  return el("g", { class: "own-house", role: "img", "aria-label": `${thing.name}, behind the panels` }, el("path", { d: path(yard.points(thing), true) }));
}

function shape(thing) {
  const group = el("g", {
    class: `thing ${thing.kind}${yard.selected === thing.name ? " selected" : ""}`,
    "data-thing": thing.name,
    tabindex: 0,
    role: "button",
    "aria-label": words(thing),
  });
  if (thing.kind === "tree") {
    const [cx, cy] = at(thing.at);
    const radius = yard.number(thing.crown_radius, 1);
    const leafy = thing.leaf_months && thing.leaf_months.length < 12;
    group.append(
      el("circle", { class: leafy ? "crown leafy" : "crown", cx, cy, r: radius }),
      el("circle", { class: "trunk", cx, cy, r: Math.max(0.12, yard.number(thing.trunk_radius, radius * 0.06)) }),
    );
  } else if (thing.kind === "array") {
    group.append(el("path", { class: "glass", d: path(glass(thing), true) }));
  } else if (thing.kind === "building") {
    group.append(el("path", { class: "walls", d: path(thing.footprint, true) }));
    if (thing.top && thing.top !== "flat") group.append(el("path", { class: "ridge", d: ridge(thing) }));
  } else if (thing.kind === "post") {
    const [x, y] = at(thing.at);
    const half = Math.max(yard.number(thing.width, 0.1), 0.12) / 2;
    group.append(
      el("circle", { class: "reach", cx: x, cy: y, r: px(11) }),
      el("rect", { class: "walls", x: x - half, y: y - half, width: 2 * half, height: 2 * half }),
    );
  } else {
    const usual = { wall: 0.3, fence: 0.08, rail: 0.08 }[thing.kind];
    const wide = Math.max(yard.number(thing.thickness, usual), px(3));
    group.append(
      el("path", { class: "reach", d: path(thing.line), "stroke-width": px(20) }),
      el("path", { class: "run", d: path(thing.line), "stroke-width": wide, ...(thing.kind === "fence" ? { "stroke-dasharray": `${px(5)} ${px(3)}` } : {}) }),
    );
  }
  return group;
}

function ridge(thing) {
  const turn = (yard.number(thing.roof_azimuth, 180) * Math.PI) / 180;
  const run = thing.top === "gable" ? [Math.sin(turn), Math.cos(turn)] : [Math.cos(turn), -Math.sin(turn)];
  const [cx, cy] = yard.centre(thing);
  const spans = yard.points(thing).map(([x, y]) => (yard.number(x) - cx) * run[0] + (yard.number(y) - cy) * run[1]);
  const half = Math.max(...spans.map(Math.abs));
  return path([
    [cx - run[0] * half, cy - run[1] * half],
    [cx + run[0] * half, cy + run[1] * half],
  ]);
}

// Names keep out of each other's way: in the middle if there is room, else a line above or below.
function labels(things) {
  const placed = yard.arrayRings().flatMap((ring) => {
    const [x, y] = [0, 1].map((axis) => (ring[0][axis] + ring[1][axis]) / 2);
    const turn = (yard.azimuth() * Math.PI) / 180;
    return [
      { x, y: -y, half: px(10) },
      { x: x + Math.sin(turn) * px(16), y: -y - Math.cos(turn) * px(16), half: px(6) },
    ];
  });
  return things.map((thing) => {
    const [x, y] = yard.centre(thing);
    const half = px(thing.name.length * 3.5 + 3);
    const thin = thing.kind !== "array" && thing.kind !== "tree" && thing.kind !== "building";
    const tries = [thin ? -13 : 0, thin ? 14 : -15, 15, -28, 28, 41].map((shift) => -y + px(shift));
    const free = (at) => !placed.some((other) => Math.abs(other.x - x) < other.half + half && Math.abs(other.y - at) < px(13));
    const at = tries.find(free) ?? tries[0];
    placed.push({ x, y: at, half });
    return el(
      "text",
      { class: "plan-name", x, y: at, "font-size": px(12.5), "text-anchor": "middle", "dominant-baseline": "middle", "stroke-width": px(3.5) },
      document.createTextNode(thing.name),
    );
  });
}

function drawArray() {
  const [wide] = yard.size;
  const group = el("g", {
    class: `array${yard.selected === "array" ? " selected" : ""}`,
    "data-thing": "array",
    tabindex: 0,
    role: "button",
    "aria-label": `The panels, facing ${Math.round(yard.azimuth())} degrees, at ${yard.metres(yard.number(yard.doc.x))} east, ${yard.metres(yard.number(yard.doc.y))} north`,
  });
  for (const ring of yard.arrayRings()) {
    group.append(el("path", { class: "panels", d: path(ring, true) }));
    const middle = [(ring[0][0] + ring[1][0]) / 2, (ring[0][1] + ring[1][1]) / 2];
    const turn = (yard.azimuth() * Math.PI) / 180;
    const tip = [middle[0] + Math.sin(turn) * Math.max(0.7, px(16)), middle[1] + Math.cos(turn) * Math.max(0.7, px(16))];
    const side = Math.min(px(5), wide / 6);
    group.append(
      el("path", {
        class: "facing",
        d:
          path([middle, tip]) +
          path([
            [tip[0] - Math.sin(turn) * side - Math.cos(turn) * side, tip[1] - Math.cos(turn) * side + Math.sin(turn) * side],
            tip,
            [tip[0] - Math.sin(turn) * side + Math.cos(turn) * side, tip[1] - Math.cos(turn) * side - Math.sin(turn) * side],
          ]),
      }),
    );
  }
  return group;
}

// The lot about the panels, where its distances are told.
function lot() {
  const held = yard.doc.boundaries || {};
  const told = Object.fromEntries(
    Object.entries(held).flatMap(([side, far]) => (far === null || far === "" ? [] : [[side, Math.max(0, yard.number(far, 0))]])),
  );
  return boundaryLines(yard.arrayRings(), yard.azimuth(), told);
}

// Handles of what is selected: corners, ends, the crown's edge, the way the panels look.
function handles() {
  const name = yard.selected;
  if (!name) return [];
  const knob = (point, key, said) =>
    el("circle", {
      class: "knob",
      cx: at(point)[0],
      cy: at(point)[1],
      r: px(6.5),
      "data-handle": key,
      tabindex: 0,
      role: "button",
      "aria-label": `${said}: arrows move it`,
    });
  if (name === "array") {
    const turn = (yard.azimuth() * Math.PI) / 180;
    const reach = Math.max(1.6, px(40));
    return [knob([yard.number(yard.doc.x) + Math.sin(turn) * reach, yard.number(yard.doc.y) + Math.cos(turn) * reach], "turn", "The way the panels look")];
  }
  const thing = name === "area" && yard.doc.area ? { footprint: yard.doc.area } : yard.thing(name);
  if (!thing || thing.kind === "post" || thing.kind === "array") return [];
  if (thing.kind === "tree") {
    const [x, y] = thing.at.map((v) => yard.number(v));
    return [knob([x + yard.number(thing.crown_radius, 1), y], "radius", `Edge of the crown of ${name}`)];
  }
  return yard.points(thing).map((point, index) => knob(point, String(index), `${thing.footprint ? "Corner" : "End"} ${index + 1} of ${name}`));
}

const FAR = 60; // m: a boundary further off does not make the plan smaller
function fit(svg) {
  // Room to draw in, at least 14 m to each side of the panels.
  const [ax, ay] = [yard.number(yard.doc.x), yard.number(yard.doc.y)];
  let [west, south, east, north] = [
    Math.min(yard.window[0], ax - 14),
    Math.min(yard.window[1], ay - 13),
    Math.max(yard.window[2], ax + 14),
    Math.max(yard.window[3], ay + 12),
  ];
  const near = lot()
    .flatMap(([, from, to]) => [from, to])
    .filter(([x, y]) => Math.hypot(x - ax, y - ay) < FAR);
  for (const point of [...[...yard.doc.objects, ...yard.ownHouse].flatMap(yard.points), ...yard.fellows.flatMap(glass), ...yard.arrayRings().flat(), ...near]) {
    const [x, y] = [yard.number(point[0]), yard.number(point[1])];
    [west, south, east, north] = [Math.min(west, x - 2), Math.min(south, y - 2), Math.max(east, x + 2), Math.max(north, y + 2)];
  }
  const wide = svg.clientWidth || 480;
  const high = svg.clientHeight || 400;
  yard.unit = Math.max((east - west) / wide, (north - south) / high);
  const [w, h] = [wide * yard.unit, high * yard.unit];
  yard.view = [(west + east - w) / 2, -(south + north + h) / 2, w, h];
  svg.setAttribute("viewBox", yard.view.map((v) => v.toFixed(3)).join(" "));
}

function grid() {
  const [x, y, w, h] = yard.view;
  const step = [1, 2, 5, 10, 20, 50].find((s) => s / yard.unit >= 22) || 100;
  let d = "";
  for (let v = Math.ceil(x / step) * step; v <= x + w; v += step) d += `M${v} ${y}v${h}`;
  for (let v = Math.ceil(y / step) * step; v <= y + h; v += step) d += `M${x} ${v}h${w}`;
  const bar = [1, 2, 5, 10, 20, 50].find((s) => s / yard.unit >= 60) || 100;
  const feet = [3, 5, 10, 20, 50, 100].find((s) => (s * 0.3048) / yard.unit >= 60) || 200;
  const length = yard.us() ? feet * 0.3048 : bar;
  const [bx, by] = [x + px(12), y + h - px(12)];
  layers.grid.replaceChildren(el("path", { class: "plan-grid", d }));
  layers.scale.replaceChildren(
    el("rect", { class: "scale-ground", x: bx - px(6), y: by - px(24), width: length + px(12), height: px(32), rx: px(4) }),
    el("path", { class: "scale-line", d: `M${bx} ${by - px(5)}v${px(5)}h${length}v${-px(5)}` }),
    el(
      "text",
      { class: "plan-ax", x: bx + length / 2, y: by - px(8), "font-size": px(12), "text-anchor": "middle" },
      document.createTextNode(yard.us() ? `${feet} ft` : `${bar} m`),
    ),
    el("path", { class: "north", d: `M${x + w - px(18)} ${y + px(38)}V${y + px(12)}m${-px(5)} ${px(8)}l${px(5)} ${-px(8)}l${px(5)} ${px(8)}` }),
    el("text", { class: "plan-ax", x: x + w - px(18), y: y + px(52), "font-size": px(12), "text-anchor": "middle" }, document.createTextNode("N")),
  );
}

function picture() {
  const place = yard.doc.picture;
  if (!place) return layers.picture.replaceChildren();
  const src = `${yard.section().dataset.picture}?${place.version || 0}`;
  layers.picture.replaceChildren(
    el("image", {
      href: src,
      x: place.x,
      y: -place.y,
      width: place.width * place.scale,
      height: place.height * place.scale,
      opacity: 0.75,
      preserveAspectRatio: "none",
    }),
  );
}

function draw() {
  const svg = one("#plan");
  if (!svg || !yard.doc) return;
  const focused = document.activeElement?.closest?.("#plan [data-thing], #plan [data-handle]");
  const key =
    focused &&
    (focused.dataset.handle !== undefined ? `[data-handle="${CSS.escape(focused.dataset.handle)}"]` : `[data-thing="${CSS.escape(focused.dataset.thing)}"]`);
  if (!yard.dragging) fit(svg);
  grid();
  picture();
  layers.things.replaceChildren(...yard.ownHouse.map(ownHouse), ...yard.fellows.map(fellow), ...yard.doc.objects.map(shape));
  layers.array.replaceChildren(...lot().map(([side, from, to]) => el("path", { class: "boundary", d: path([from, to]), "data-side": side })), drawArray());
  layers.area.replaceChildren(
    ...(yard.doc.area
      ? [
          el("path", {
            class: `search-area${yard.selected === "area" ? " selected" : ""}`,
            d: path(yard.doc.area, true),
            "data-thing": "area",
            tabindex: 0,
            role: "button",
            "aria-label": "The part of the yard to search",
          }),
        ]
      : []),
  );
  layers.names.replaceChildren(...labels([...yard.ownHouse.filter((thing) => thing.wall), ...yard.fellows, ...yard.doc.objects]));
  layers.handles.replaceChildren(...handles());
  one("#area-drop").hidden = !yard.doc.area;
  one("#find-within").value = yard.doc.area ? "1" : "";
  if (key) {
    yard.refocusing = true;
    one(key, svg)?.focus({ preventScroll: true });
    yard.refocusing = false;
  }
  for (const mini of document.querySelectorAll("svg.mini")) {
    mini.setAttribute("viewBox", yard.view.map((v) => v.toFixed(3)).join(" "));
    const copies = [layers.things, layers.array].map((layer) => layer.cloneNode(true));
    for (const part of copies.flatMap((copy) => [copy, ...copy.querySelectorAll("*")]))
      for (const name of ["id", "tabindex", "role", "aria-label", "data-thing"]) part.removeAttribute(name);
    mini.replaceChildren(mini.querySelector(".shadows") || el("g", { class: "shadows" }), ...copies);
  }
}
yard.listen(draw);
addEventListener("resize", () => yard.doc && draw());
document.addEventListener("DOMContentLoaded", () => {
  const svg = one("#plan");
  if (!svg) return;
  for (const name of ["picture", "grid", "map", "shadows", "area", "things", "array", "spots", "names", "scale", "handles", "pen"]) {
    layers[name] = el("g", { class: `layer-${name}` });
    svg.append(layers[name]);
  }
  layers.shadows.classList.add("shadows");
  draw();
});
