import { csrfToken, html, one } from "./page.js";
import { yard } from "./yard.js";

const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");
const TOPS = [
  ["flat", "flat"],
  ["lean-to", "lean-to"],
  ["gable", "gable"],
];
// Key, label, what it is: length, degrees, share, text, choice, points, months; and when it is asked.
const FIELDS = {
  building: [
    ["height", "Height of the eaves", "length"],
    ["top", "Its top", "choice", TOPS],
    ["ridge", "Height of the ridge", "length", (t) => t.top !== "flat"],
    ["roof_azimuth", "Ridge runs to, or lean-to falls to", "degrees", (t) => t.top !== "flat"],
    ["footprint", "Corners: east, north", "points"],
  ],
  tree: [
    ["height", "Height", "length"],
    ["crown_radius", "Crown, middle to edge", "length"],
    ["crown_base", "Crown begins at", "length"],
    ["at", "Trunk: east, north", "points"],
    ["leaf_months", "In leaf", "months"],
    ["light_in_leaf", "Light through it in leaf", "share"],
    ["light_bare", "and bare", "share", (t) => t.leaf_months],
  ],
  wall: [
    ["height", "Height", "length"],
    ["thickness", "Thickness", "length"],
    ["line", "Ends: east, north", "points"],
  ],
  fence: [
    ["height", "Height", "length"],
    ["open", "Open, light gets through", "share"],
    ["line", "Ends: east, north", "points"],
  ],
  post: [
    ["height", "Height of its top", "length"],
    ["width", "Width", "length"],
    ["base", "Begins at", "length"],
    ["at", "Stands at: east, north", "points"],
  ],
  rail: [
    ["height", "Height of its top", "length"],
    ["thickness", "Thickness", "length"],
    ["line", "Ends: east, north", "points"],
  ],
  array: [
    ["tilt", "Tilt", "degrees"],
    ["azimuth", "Facing", "degrees"],
    ["breadth", "Along the row", "length"],
    ["slope_length", "Up the slope", "length"],
    ["clearance", "Lower edge above ground", "length"],
    ["at", "Stands at: east, north", "points"],
  ],
};
const unitOf = { length: () => (yard.us() ? "" : "m"), degrees: () => "°", share: () => "%" };
const USUAL = { thickness: { wall: 0.3, fence: 0.04 } };

const show = (value, kind) => {
  if (value === undefined || value === null) return "";
  if (typeof value === "string") return value;
  if (kind === "length") return yard.us() ? yard.metres(value) : String(Math.round(value * 1000) / 1000);
  if (kind === "share") return String(Math.round(value * 1000) / 10);
  if (kind === "points") return (Array.isArray(value[0]) ? value : [value]).map((p) => p.map((v) => show(v, "length")).join(", ")).join("\n");
  if (Array.isArray(value)) return value.join(" ");
  return String(Math.round(value * 100) / 100);
};
const plain = (text) => (/^\s*-?\d+([.,]\d+)?\s*$/.test(text) && !yard.us() ? Number(text.replace(",", ".")) : text.trim());
const read = (text, kind, single) => {
  if (kind === "points") {
    const points = text
      .split("\n")
      .filter((line) => line.trim())
      .map((line) =>
        line
          .split(line.includes(";") ? ";" : /,\s+|,(?=\s*-?\d)/)
          .slice(0, 2)
          .map(plain),
      );
    return single ? points[0] : points;
  }
  if (kind === "length") return plain(text);
  return text.trim();
};

let counter = 0;
function field(label, kind, value, put, options) {
  const id = `n-${counter++}`;
  let input;
  if (kind === "choice") {
    input = html(
      "select",
      { id, class: "form-select form-select-sm" },
      ...options.map(([key, words]) => html("option", { value: key, text: words, ...(key === value ? { selected: "" } : {}) })),
    );
  } else if (kind === "points") {
    const lines = show(value, kind);
    input = html("textarea", { id, class: "form-control form-control-sm", rows: Math.min(8, lines.split("\n").length), autocomplete: "off" });
    input.value = lines;
  } else {
    input = html("input", { id, class: "form-control form-control-sm", autocomplete: "off" });
    input.value = kind === "text" ? value || "" : show(value, kind);
  }
  input.addEventListener("change", () => put(input.value));
  const unit = unitOf[kind]?.();
  return html(
    "div",
    { class: "field" },
    html("label", { class: "field-name", for: id, text: label }),
    html("div", { class: "field-input" }, input, ...(unit ? [html("span", { class: "unit", text: unit })] : [])),
  );
}

function months(thing) {
  const evergreen = !thing.leaf_months;
  const set = (value) => yard.change(() => (thing2(thing).leaf_months = value));
  const box = html("input", { type: "checkbox", class: "form-check-input" });
  box.checked = evergreen;
  box.addEventListener("change", () => set(box.checked ? null : yard.section().dataset.south ? [1, 2, 3, 4, 11, 12] : [5, 6, 7, 8, 9, 10]));
  const parts = [html("label", { class: "snap" }, box, " evergreen")];
  if (!evergreen) {
    const pills = html("fieldset", { class: "pills tiny" }, html("legend", { class: "visually-hidden", text: "Months in leaf" }));
    MONTHS.forEach((month, index) => {
      const tick = html("input", { type: "checkbox" });
      tick.checked = thing.leaf_months.includes(index + 1);
      tick.addEventListener("change", () =>
        set(
          thing.leaf_months
            .filter((m) => m !== index + 1)
            .concat(tick.checked ? [index + 1] : [])
            .sort((a, b) => a - b),
        ),
      );
      pills.append(html("label", {}, tick, html("span", { text: month })));
    });
    parts.push(pills);
  }
  return html("div", { class: "field" }, html("span", { class: "field-name", text: "In leaf" }), ...parts);
}
const thing2 = (thing) => yard.thing(thing.name);

function numbers() {
  const place = one("#numbers");
  const title = one("#numbers-title");
  const name = yard.selected;
  const thing = name && name !== "array" ? yard.thing(name) : null;
  const key = JSON.stringify([name, thing || [yard.doc.x, yard.doc.y, yard.doc.azimuth, yard.doc.clearance]]);
  if (place.dataset.key === key) return;
  const focus = [...place.querySelectorAll("input, select, textarea")].indexOf(document.activeElement);
  place.dataset.key = key;
  if (!name || name === "area") {
    title.textContent = "The numbers";
    return place.replaceChildren(html("p", { class: "hint", text: "Choose a thing on the plan, or the panels, to give its exact numbers." }));
  }
  const parts = [];
  if (name === "array") {
    title.textContent = "The panels stand at";
    const put = (key2) => (text) => yard.change((doc) => (doc[key2] = plain(text)));
    parts.push(
      html("div", { class: "pair" }, field("East", "length", yard.number(yard.doc.x), put("x")), field("North", "length", yard.number(yard.doc.y), put("y"))),
    );
    parts.push(
      html(
        "div",
        { class: "pair" },
        field("Facing", "degrees", yard.azimuth(), put("azimuth")),
        field("Lower edge above ground", "length", yard.doc.clearance, put("clearance")),
      ),
    );
  } else if (thing) {
    title.textContent = thing.name;
    parts.push(field("Name", "text", thing.name, (text) => rename(name, text)));
    for (const [key2, label, kind, more] of FIELDS[thing.kind]) {
      if (typeof more === "function" && !more(thing)) continue;
      if (kind === "months") parts.push(months(thing));
      else parts.push(field(label, kind, thing[key2] ?? USUAL[key2]?.[thing.kind], (text) => yard.change(() => set(name, key2, kind, text)), more));
    }
    if (thing.measured?.length) parts.push(html("p", { class: "hint", text: `Measured: ${thing.measured.map(told).join("; ")}.` }));
    const actions = html(
      "p",
      { class: "actions" },
      html("button", { type: "button", class: "button quiet small", text: "Duplicate" }),
      html("button", { type: "button", class: "button danger small", text: "Take away" }),
    );
    actions.children[0].addEventListener("click", () => yard.duplicate(name));
    actions.children[1].addEventListener("click", () => yard.remove(name));
    parts.push(actions);
  }
  place.replaceChildren(...parts);
  if (focus >= 0) place.querySelectorAll("input, select, textarea")[focus]?.focus();
  return null;
}
const told = (raw) =>
  `${Object.entries(raw)
    .filter(([key]) => key !== "way")
    .map(([key, value]) => `${key.replaceAll("_", " ")} ${value}`)
    .join(", ")} (${raw.way})`;
function set(name, key, kind, text) {
  const thing = yard.thing(name);
  const value = kind === "share" ? `${text.trim().replace(/%$/, "")} %` : read(text, kind, key === "at");
  thing[key] = kind === "degrees" ? degrees(text) : value;
  if (key === "top" && text !== "flat" && !thing.ridge) thing.ridge = yard.number(thing.height, 3) + 2;
  if (value === "" || value === undefined) delete thing[key];
}
// One angle, or twelve by month.
function degrees(text) {
  const parts = text.trim().split(/\s+/);
  return parts.length === 12 ? parts.map((part) => Number(part.replace(",", "."))) : plain(text);
}
function rename(name, text) {
  const wanted = text.trim();
  if (!wanted || wanted === name) return;
  const free = yard.thing(wanted) ? yard.fresh(wanted) : wanted;
  yard.selected = free;
  yard.change((doc) => (doc.objects.find((thing) => thing.name === name).name = free));
  if (free !== wanted) yard.say(`There is a “${wanted}” already: this one is “${free}”.`);
}

function list() {
  const line = (name, words) => {
    const button = html(
      "button",
      { type: "button", class: `thing-line${yard.selected === name ? " on" : ""}`, ...(yard.selected === name ? { "aria-current": "true" } : {}) },
      html("b", { text: words }),
      ...(name === "array" ? [] : [html("small", { text: yard.metres(yard.height(yard.thing(name))) })]),
    );
    button.addEventListener("click", () => {
      yard.select(name);
      one("#things .on")?.focus();
    });
    return html("li", {}, button);
  };
  one("#things").replaceChildren(line("array", "The panels"), ...yard.doc.objects.map((thing) => line(thing.name, thing.name)));
}

function ground() {
  const place = one("#ground-fields");
  const doc = yard.doc;
  const key = JSON.stringify([doc.slope, doc.slope_toward, doc.split, doc.parts, doc.boundaries]);
  if (place.dataset.key === key) return;
  place.dataset.key = key;
  const put = (name) => (text) => yard.change((d) => (d[name] = plain(text)));
  const split = doc.split || { groups: 1, how: "behind", distance: 3 };
  const cut = (name) => (text) =>
    yard.change((d) => (d.split = { ...split, [name]: name === "groups" ? parseInt(text, 10) || 1 : name === "how" ? text : plain(text) }));
  const parts = [
    html(
      "div",
      { class: "pair" },
      field("The ground falls by", "degrees", doc.slope, put("slope")),
      field("toward", "degrees", doc.slope_toward, put("slope_toward")),
    ),
    html(
      "div",
      { class: "pair" },
      field("Groups of panels", "text", String(split.groups), cut("groups")),
      field("stand", "choice", split.how, cut("how"), [
        ["behind", "behind each other"],
        ["beside", "side by side"],
      ]),
    ),
  ];
  if (split.groups > 1) parts.push(field(split.how === "behind" ? "Front edge to front edge" : "Gap between", "length", split.distance, cut("distance")));
  doc.parts.forEach((part, index) => {
    const set2 = (name) => (text) => yard.change((d) => (d.parts[index][name] = name === "name" ? text.trim() : text.split(/ to |–|,\s+/).map(plain)));
    const drop = html("button", { type: "button", class: "link", text: "take it away" });
    drop.addEventListener("click", () => yard.change((d) => d.parts.splice(index, 1)));
    const span = (pair) => pair.map((v) => show(v, "length")).join(" to ");
    parts.push(
      html(
        "fieldset",
        { class: "part" },
        html("legend", { text: part.name }),
        field("Name", "text", part.name, set2("name")),
        field("Along, from the middle", "text", span(part.along), set2("along")),
        field("Up from the lower edge", "text", span(part.up), set2("up")),
        field("Off the glass", "text", span(part.off), set2("off")),
        drop,
      ),
    );
  });
  const more = html("button", { type: "button", class: "link", text: "Add a part of the frame (rail, post top, clamp)" });
  more.addEventListener("click", () =>
    yard.change((d) =>
      d.parts.push({
        name: d.parts.length ? `Rail ${d.parts.length + 1}` : "Rail",
        along: [-yard.size[0] / 2, yard.size[0] / 2].map((v) => Math.round(v * 100) / 100),
        up: [-0.15, -0.1],
        off: [0, 0.1],
      }),
    ),
  );
  const lot = doc.boundaries || {};
  const taped = (side) => (text) => yard.change((d) => (d.boundaries = { ...d.boundaries, [side]: text.trim() ? plain(text) : null }));
  const side = (name, words) => field(words, "length", lot[name] ?? "", taped(name));
  const about = html(
    "fieldset",
    { class: "part" },
    html("legend", { text: "To the boundaries of the lot" }),
    html("div", { class: "pair" }, side("front", "in front of the glass"), side("back", "behind it")),
    html("div", { class: "pair" }, side("left", "left, looking at it"), side("right", "right")),
  );
  place.replaceChildren(...parts, more, about);
}

// Where the picture lies, in numbers: the same as clicking two points on it.
function picture() {
  const place = one("#picture-fields");
  const held = yard.doc.picture;
  const key = JSON.stringify(held);
  if (place.dataset.key === key) return;
  place.dataset.key = key;
  if (!held) return place.replaceChildren();
  const put = (name) => (text) => yard.change((d) => (d.picture = { ...d.picture, [name]: yard.number(text, d.picture[name]) }));
  const wide = (text) => yard.change((d) => (d.picture = { ...d.picture, scale: Math.max(0.001, yard.number(text, 1) / d.picture.width) }));
  place.replaceChildren(
    html(
      "div",
      { class: "pair" },
      field("Its west edge, m east", "text", String(Math.round(held.x * 100) / 100), put("x")),
      field("Its north edge, m north", "text", String(Math.round(held.y * 100) / 100), put("y")),
    ),
    field("Its breadth, m", "text", String(Math.round(held.width * held.scale * 100) / 100), wide),
  );
  return null;
}

const WAYS = {
  clinometer: [
    ["distance", "Distance to it", "20"],
    ["angle", "Angle to the top, °", "25"],
    ["eye_height", "Eye height", "1.6"],
    ["foot_angle", "On a slope: angle to the foot, °", ""],
    ["slope", "and the ground falls by, °", ""],
  ],
  stick: [
    ["stick", "The stick", "1.2"],
    ["stick_shadow", "Its shadow", "1.8"],
    ["shadow", "The thing's shadow", "13.5"],
    ["slope", "Ground falls along it by, °", "0"],
  ],
  paces: [
    ["paces", "Paces", "40"],
    ["pace", "One pace", "0.75"],
  ],
};
function ask() {
  one("#m-fields").replaceChildren(
    ...WAYS[one("#m-way").value].map(([key, label]) =>
      html(
        "div",
        { class: "field" },
        html("label", { class: "field-name", for: `m-${key}`, text: label }),
        html("input", {
          id: `m-${key}`,
          "data-m": key,
          class: "form-control form-control-sm",
          autocomplete: "off",
          ...(key === "angle" || key === "foot_angle" || key === "slope" || key === "paces" ? { inputmode: "decimal" } : {}),
        }),
      ),
    ),
  );
  if (one("#m-slope")) one("#m-slope").value = "0";
  if (one("#m-eye_height")) one("#m-eye_height").value = yard.us() ? "5 ft 3 in" : "1.6";
}
async function measure() {
  const body = new URLSearchParams({ way: one("#m-way").value });
  for (const input of document.querySelectorAll("[data-m]")) body.set(input.dataset.m, input.value);
  const answer = await fetch(yard.section().dataset.measure, { method: "POST", body, headers: { "X-CSRFToken": csrfToken(), "HX-Request": "true" } });
  const found = await answer.json();
  const said = one("#m-said");
  said.className = found.error ? "refusal" : "";
  if (found.error) return (said.textContent = found.error);
  if (found.distance) return (said.textContent = `That is ${yard.metres(found.distance)}.`);
  const thing = yard.selected && yard.thing(yard.selected);
  if (!thing) return (said.textContent = `${yard.metres(found.height)} high. Choose a thing first to give it that height.`);
  yard.change(() => {
    const target = yard.thing(thing.name);
    if (target.top && target.top !== "flat") target.ridge = found.height;
    else target.height = found.height;
    target.measured = [...(target.measured || []), found.measured].slice(-8);
  });
  return (said.textContent = `${thing.name} is ${yard.metres(found.height)} high; the readings are kept with it.`);
}

yard.listen(() => {
  if (!yard.section()) return;
  list();
  numbers();
  ground();
  picture();
});
document.addEventListener("DOMContentLoaded", () => {
  if (!yard.section()) return;
  list();
  numbers();
  ground();
  picture();
  ask();
  one("#m-way").addEventListener("change", ask);
  one("#m-go").addEventListener("click", measure);
});
