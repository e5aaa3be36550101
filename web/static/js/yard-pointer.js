// Hands on the plan: drawing new things, dragging, resizing, turning; the same by keyboard.
import { grown, rectangle, roundTo, spun } from "./geometry.js";
import { all, el, one } from "./page.js";
import { yard } from "./yard.js";

let tool = null;
let hold = null;
const NAMES = { building: "House", tree: "Tree", wall: "Wall", fence: "Fence", post: "Post", rail: "Rail", array: "Other panels" };

yard.fresh = (base) => {
  let name = base;
  for (let number = 2; yard.thing(name) || name === "array" || name === "area"; number++) name = `${base} ${number}`;
  return name;
};
function make(kind, points) {
  const name = yard.fresh(NAMES[kind]);
  const south = yard.section().dataset.south;
  if (kind === "building") return { kind, name, footprint: points, height: 3, top: "flat", roof_azimuth: 90 };
  if (kind === "tree")
    return {
      kind,
      name,
      at: points[0],
      crown_radius: 2.5,
      height: 7,
      crown_base: 2,
      leaf_months: south ? [1, 2, 3, 4, 11, 12] : [5, 6, 7, 8, 9, 10],
      light_in_leaf: 0.05,
      light_bare: 0.45,
    };
  if (kind === "post") return { kind, name, at: points[0], height: 4, width: 0.1, base: 0 };
  if (kind === "array") return { kind, name, at: points[0], azimuth: yard.azimuth(), tilt: 30, breadth: 3, slope_length: 1.7, clearance: 0.5 };
  if (kind === "rail") return { kind, name, line: points, height: 1.2, thickness: 0.05 };
  return { kind, name, line: points, height: kind === "wall" ? 1.5 : 1.6, open: kind === "wall" ? 0 : 0.3 };
}

function arm(kind) {
  tool = kind;
  for (const button of all("[data-tool]")) button.setAttribute("aria-pressed", String(button.dataset.tool === kind));
  one("#plan").classList.toggle("drawing-now", Boolean(kind));
  const how = {
    building: "Press at one corner, let go at the opposite one.",
    tree: "Click where the trunk stands.",
    post: "Click where it stands.",
    array: "Click under the middle of their lower edge.",
    area: "Press at one corner of the part to search, let go at the opposite one.",
    scale: "Click two points on the picture.",
  };
  yard.say(kind ? how[kind] || "Press at one end, let go at the other." : "");
}
yard.arm = arm;

const spot = (event) => {
  const matrix = one("#plan").getScreenCTM().inverse();
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
  return [point.x, -point.y];
};
const round = roundTo;
function snapped(point, event, apart) {
  if (!one("#snap").checked || event?.altKey) return point.map((v) => round(v, 0.05));
  const corners = yard.doc.objects.filter((thing) => thing.name !== apart).flatMap(yard.points);
  const near = corners.find(([x, y]) => Math.hypot(x - point[0], y - point[1]) < yard.px(9));
  return near ? [...near] : point.map((v) => round(v, 0.5));
}

function add(kind, points) {
  const thing = make(kind, points);
  yard.change((doc) => doc.objects.push(thing));
  yard.select(thing.name, true);
  yard.say(`${thing.name} ${kind === "array" ? "are there: give their size and tilt" : "is there: give its height"} beside the plan.`);
}

// By keyboard a new thing stands three metres before the panels.
function setDown(kind) {
  const turn = (yard.azimuth() * Math.PI) / 180;
  const [x, y] = [yard.number(yard.doc.x) + Math.sin(turn) * 5, yard.number(yard.doc.y) + Math.cos(turn) * 5].map((v) => round(v, 0.5));
  if (kind === "area") {
    yard.change((doc) => (doc.area = rectangle([x - 5, y - 5], [x + 5, y + 5])));
    return yard.select("area", true);
  }
  return add(
    kind,
    kind === "building"
      ? rectangle([x - 2, y - 1.5], [x + 2, y + 1.5])
      : ["tree", "post", "array"].includes(kind)
        ? [[x, y]]
        : [
            [x - 2, y],
            [x + 2, y],
          ],
  );
}

// The part to search is moved and sized like a thing.
const of = (doc, name) =>
  name === "area"
    ? {
        get footprint() {
          return doc.area;
        },
        set footprint(points) {
          doc.area = points;
        },
      }
    : doc.objects.find((thing) => thing.name === name);
function shift(doc, name, dx, dy) {
  if (name === "array") {
    doc.x = round(yard.number(doc.x) + dx, 0.01);
    doc.y = round(yard.number(doc.y) + dy, 0.01);
    return;
  }
  const thing = of(doc, name);
  const move = ([x, y]) => [round(yard.number(x) + dx, 0.01), round(yard.number(y) + dy, 0.01)];
  if (thing.at) thing.at = move(thing.at);
  else if (thing.line) thing.line = thing.line.map(move);
  else thing.footprint = thing.footprint.map(move);
}
function turn(doc, name, by) {
  if (name === "array") return (doc.azimuth = (yard.azimuth() + by + 360) % 360);
  const thing = of(doc, name);
  if (thing.kind === "array") return (thing.azimuth = (yard.number(thing.azimuth, 180) + by + 360) % 360);
  if (thing.at) return null;
  const [cx, cy] = yard.centre(thing);
  const spin = (point) => spun(point, [cx, cy], by).map((v) => round(v, 0.001));
  if (thing.line) thing.line = thing.line.map(spin);
  else {
    thing.footprint = thing.footprint.map(spin);
    if (name !== "area") thing.roof_azimuth = (yard.number(thing.roof_azimuth, 180) + by + 360) % 360;
  }
  return null;
}
function size(doc, name, by) {
  const thing = of(doc, name);
  if (!thing) return;
  if (thing.kind === "tree") thing.crown_radius = round(Math.max(0.2, yard.number(thing.crown_radius) * by), 0.01);
  else if (thing.kind === "array") for (const side of ["breadth", "slope_length"]) thing[side] = round(Math.max(0.2, yard.number(thing[side]) * by), 0.01);
  else if (thing.kind === "post") thing.width = round(Math.max(0.02, yard.number(thing.width) * by), 0.001);
  else {
    const [cx, cy] = yard.centre(thing);
    const grow = (point) => grown(point, [cx, cy], by).map((v) => round(v, 0.01));
    if (thing.line) thing.line = thing.line.map(grow);
    else thing.footprint = thing.footprint.map(grow);
  }
}
function pull(doc, name, handle, point) {
  if (name === "array") {
    const angle = (Math.atan2(point[0] - yard.number(doc.x), point[1] - yard.number(doc.y)) * 180) / Math.PI;
    doc.azimuth = (Math.round(angle) + 360) % 360;
    return;
  }
  const thing = of(doc, name);
  if (handle === "radius") thing.crown_radius = round(Math.max(0.2, Math.hypot(point[0] - thing.at[0], point[1] - thing.at[1])), 0.05);
  else yard.points(thing)[Number(handle)] = point;
}
yard.remove = (name) => {
  if (name === "area") yard.change((doc) => (doc.area = null));
  if (name === "area") return yard.select(null);
  if (name === "array") return yard.say("The panels stay: the frame station says how many there are.");
  yard.change((doc) => (doc.objects = doc.objects.filter((thing) => thing.name !== name)));
  yard.select(null);
  yard.say(`${name} is gone. Ctrl+Z brings it back.`);
  return null;
};
yard.duplicate = (name) => {
  const thing = yard.thing(name);
  if (!thing) return;
  const twin = JSON.parse(JSON.stringify(thing));
  twin.name = yard.fresh(thing.name.replace(/ \d+$/, ""));
  yard.change((doc) => {
    doc.objects.push(twin);
    shift(doc, twin.name, 1, 1);
  });
  yard.select(twin.name, true);
};

function down(event) {
  if (event.button > 0 || !yard.doc) return;
  const handle = event.target.closest("[data-handle]");
  const thing = event.target.closest("[data-thing]");
  const start = spot(event);
  if (tool) hold = { tool, start: tool === "scale" ? start : snapped(start, event) };
  else if (handle) hold = { handle: handle.dataset.handle, name: yard.selected, before: JSON.stringify(yard.doc) };
  else if (thing) {
    hold = { name: thing.dataset.thing, start, before: JSON.stringify(yard.doc) };
    yard.select(hold.name);
  } else return yard.select(null);
  event.preventDefault();
  one("#plan").setPointerCapture(event.pointerId);
  yard.dragging = true;
  if (!tool)
    one(handle ? `[data-handle="${CSS.escape(hold.handle)}"]` : `[data-thing="${CSS.escape(hold.name)}"]`, one("#plan"))?.focus({ preventScroll: true });
  return null;
}
function move(event) {
  if (!hold) return;
  const now = spot(event);
  if (hold.tool) {
    const end = snapped(now, event);
    const d = hold.tool === "building" || hold.tool === "area" ? yard.path(rectangle(hold.start, end), true) : yard.path([hold.start, end]);
    yard.layers.pen.replaceChildren(el("path", { class: "pen", d }));
    yard.say(`${yard.metres(Math.abs(end[0] - hold.start[0]))} by ${yard.metres(Math.abs(end[1] - hold.start[1]))}`);
    return;
  }
  yard.doc = JSON.parse(hold.before);
  if (hold.handle !== undefined) pull(yard.doc, hold.name, hold.handle, hold.name === "array" ? now : snapped(now, event, hold.name));
  else {
    const first = hold.name === "array" ? [yard.number(yard.doc.x), yard.number(yard.doc.y)] : yard.points(of(yard.doc, hold.name))[0];
    const goal = snapped([first[0] + now[0] - hold.start[0], first[1] + now[1] - hold.start[1]], event, hold.name);
    shift(yard.doc, hold.name, goal[0] - first[0], goal[1] - first[1]);
  }
  hold.moved = JSON.stringify(yard.doc) !== hold.before;
  yard.draw();
  if (hold.moved) yard.preview();
}
function up(event) {
  if (!hold) return;
  const was = hold;
  hold = null;
  yard.dragging = false;
  yard.layers.pen.replaceChildren();
  if (was.tool) {
    const end = was.tool === "scale" ? spot(event) : snapped(spot(event), event);
    if (was.tool === "scale") return yard.scaleClick?.(was.start);
    const far = Math.hypot(end[0] - was.start[0], end[1] - was.start[1]) > 0.3;
    const kind = was.tool;
    arm(null);
    if (kind === "area") {
      if (far) yard.change((doc) => (doc.area = rectangle(was.start, end)));
    } else if (["tree", "post", "array"].includes(kind)) add(kind, [was.start]);
    else if (kind === "building")
      add(kind, far ? rectangle(was.start, end) : rectangle([was.start[0] - 2, was.start[1] - 1.5], [was.start[0] + 2, was.start[1] + 1.5]));
    else add(kind, far ? [was.start, end] : [was.start, [was.start[0] + 3, was.start[1]]]);
    return null;
  }
  if (was.moved) {
    const after = JSON.stringify(yard.doc);
    yard.doc = JSON.parse(was.before);
    yard.change((doc) => Object.assign(doc, JSON.parse(after)));
  } else yard.draw();
  return null;
}

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
function key(event) {
  const handle = event.target.closest("[data-handle]");
  const thing = event.target.closest("[data-thing]");
  const name = handle ? yard.selected : thing?.dataset.thing;
  if (!name || ((event.ctrlKey || event.metaKey) && event.key !== "d")) return;
  const step = event.shiftKey ? 1 : 0.1;
  const arrow = ARROWS[event.key];
  let done = true;
  if (arrow && handle) {
    yard.change((doc) => {
      if (name === "array") return turn(doc, name, (arrow[0] - arrow[1] || 1) * (event.shiftKey ? 15 : 1));
      const t = of(doc, name);
      const from = handle.dataset.handle === "radius" ? [t.at[0] + yard.number(t.crown_radius), t.at[1]] : yard.points(t)[Number(handle.dataset.handle)];
      return pull(doc, name, handle.dataset.handle, [
        round(from[0] + arrow[0] * step, 0.01),
        round(from[1] + (handle.dataset.handle === "radius" ? 0 : arrow[1] * step), 0.01),
      ]);
    }, `pull ${name} ${handle.dataset.handle}`);
    yard.preview();
  } else if (arrow) {
    yard.change((doc) => shift(doc, name, arrow[0] * step, arrow[1] * step), `move ${name}`);
    yard.preview();
  } else if (event.key === "[" || event.key === "]") {
    yard.change((doc) => turn(doc, name, (event.key === "]" ? 1 : -1) * 5), `turn ${name}`);
    yard.preview();
  } else if (event.key === "+" || event.key === "=" || event.key === "-") {
    yard.change((doc) => size(doc, name, event.key === "-" ? 1 / 1.1 : 1.1), `size ${name}`);
    yard.preview();
  } else if (event.key === "Delete" || event.key === "Backspace") {
    yard.remove(name);
    one("#things button")?.focus();
  } else if (event.key === "d" || event.key === "D") yard.duplicate(name);
  else if (event.key === "Enter" || event.key === " ") {
    yard.select(name);
    one("#numbers input")?.focus();
  } else if (event.key === "Escape") yard.select(null);
  else done = false;
  if (done) {
    event.preventDefault();
    event.stopPropagation();
  }
}

document.addEventListener("DOMContentLoaded", () => {
  const plan = one("#plan");
  if (!plan) return;
  plan.addEventListener("pointerdown", down);
  plan.addEventListener("pointermove", move);
  plan.addEventListener("pointerup", up);
  plan.addEventListener("pointercancel", up);
  plan.addEventListener("keydown", key);
  plan.addEventListener("focusin", (event) => {
    const thing = event.target.closest("[data-thing]");
    if (thing && !yard.dragging && !yard.refocusing && yard.selected !== thing.dataset.thing) yard.select(thing.dataset.thing);
  });
  for (const button of all("[data-tool]")) {
    button.addEventListener("click", (event) => {
      if (event.detail === 0) setDown(button.dataset.tool);
      else arm(tool === button.dataset.tool ? null : button.dataset.tool);
    });
  }
  one("#area-drop").addEventListener("click", () => yard.change((doc) => (doc.area = null)));
  document.addEventListener("keydown", (event) => event.key === "Escape" && tool && arm(null));
});
