// The wiring picture: panels as they stand, the cable drawn in the order of the string. Press panels in turn to wire them.
import { el, html, one } from "./page.js";
import { yard } from "./yard.js";

let current = null;

const rows = () => Number(yard.section().dataset.rows);
const columns = () => Number(yard.section().dataset.columns);
const everyone = () => Array.from({ length: rows() * columns() }, (_, i) => i + 1);
const loose = () => yard.doc.wiring.unwired || [];
const strings = () => (yard.doc.wiring.strings?.length ? yard.doc.wiring.strings : [everyone().filter((panel) => !loose().includes(panel))]);
const wire = (held) => {
  const on = held.flat();
  return { ...yard.doc.wiring, strings: held.filter((string) => string.length), unwired: loose().filter((panel) => !on.includes(panel)) };
};

function press(panel) {
  if (yard.doc.wiring.kind === "own") return;
  // A press on a panel takes it to the end of the string being wired; what is in no string follows in the last.
  const held = strings().map((string) => string.filter((p) => p !== panel));
  const at = current === null ? held.length - 1 : Math.min(current, held.length - 1);
  held[at].push(panel);
  const made = wire(held);
  yard.change((doc) => (doc.wiring = made), "wire");
}

function draw() {
  const place = one("#wiring-picture");
  if (!place || !yard.doc) return;
  const key = JSON.stringify([yard.doc.wiring, current]);
  if (place.dataset.key === key) return;
  place.dataset.key = key;
  const focused = document.activeElement?.dataset?.panel;
  one("#wiring-kind").value = yard.doc.wiring.kind;
  if (rows() * columns() > 60) return place.replaceChildren(html("p", { class: "hint", text: "More than 60 panels: give the strings in the brief file." }));
  const [w, h] = yard.section().dataset.portrait ? [34, 50] : [50, 34];
  const own = yard.doc.wiring.kind === "own";
  const middle = (panel) => [((panel - 1) % columns()) * (w + 4) + w / 2 + 4, (rows() - 1 - Math.floor((panel - 1) / columns())) * (h + 4) + h / 2 + 4];
  const svg = el("svg", {
    class: "wires",
    viewBox: `0 0 ${columns() * (w + 4) + 4} ${rows() * (h + 4) + 4}`,
    role: "group",
    "aria-label": "Panels seen from the front; press them in turn",
  });
  const home = new Map(strings().flatMap((string, index) => string.map((panel) => [panel, index])));
  for (const panel of everyone()) {
    const [x, y] = middle(panel);
    const free = loose().includes(panel);
    const said = free ? "on no string" : own ? "its own converter" : `string ${(home.get(panel) || 0) + 1}`;
    const part = el(
      "g",
      {
        class: `wire-panel ${free ? "loose" : `s${(home.get(panel) || 0) % 4}`}`,
        tabindex: own ? -1 : 0,
        role: "button",
        "data-panel": panel,
        "aria-label": `Panel ${panel}, ${said}`,
      },
      el("rect", { x: x - w / 2, y: y - h / 2, width: w, height: h, rx: 2 }),
      el("text", { x, y: y + (own ? 0 : h / 4), "text-anchor": "middle", "dominant-baseline": "middle" }, document.createTextNode(String(panel))),
    );
    part.addEventListener("click", () => press(panel));
    part.addEventListener("keydown", (event) => {
      if (event.key !== "Enter" && event.key !== " ") return;
      event.preventDefault();
      event.stopPropagation();
      press(panel);
    });
    svg.append(part);
  }
  if (!own) {
    strings().forEach((string, index) => {
      const points = string.map(middle);
      svg.append(
        el("path", { class: `cable s${index % 4}`, d: `M${points.map(([x, y]) => `${x} ${y - h / 8}`).join("L")}` }),
        el("circle", { class: `cable-end s${index % 4}`, cx: points[0][0], cy: points[0][1] - h / 8, r: 4 }),
      );
    });
  }
  const parts = [svg];
  if (yard.doc.wiring.kind === "parallel") {
    const line = html("p", { class: "string-line" });
    strings().forEach((string, index) => {
      const button = html("button", {
        type: "button",
        class: "button quiet small",
        "aria-pressed": String((current ?? strings().length - 1) === index),
        text: `String ${index + 1}: ${string.length}`,
      });
      button.addEventListener("click", () => {
        current = index;
        draw();
      });
      line.append(button, " ");
    });
    const more = html("button", { type: "button", class: "link", text: "split off a new string" });
    more.addEventListener("click", () => {
      const all = strings().map((string) => [...string]);
      const longest = all.reduce((a, b) => (b.length > a.length ? b : a));
      if (longest.length < 2) return;
      all.push(longest.splice(Math.ceil(longest.length / 2)));
      current = all.length - 1;
      yard.change((doc) => (doc.wiring = { ...doc.wiring, strings: all }));
    });
    line.append(more);
    parts.push(line);
  }
  if (loose().length) {
    const many = loose().length;
    const line = html("p", {
      class: "told warn",
      text: `${many} panel${many === 1 ? " is" : "s are"} on no string (dashed) and give${many === 1 ? "s" : ""} nothing. Press ${many === 1 ? "it" : "them in turn"}, or:`,
    });
    /** @type {[string, () => any][]} */
    const choices = own
      ? [["give each its converter", () => ({ ...yard.doc.wiring, unwired: [] })]]
      : [
          [
            `put them at the end of string ${(current ?? strings().length - 1) + 1}`,
            () =>
              wire(
                strings().map((string, index) =>
                  index === Math.min(current ?? strings().length - 1, strings().length - 1) ? [...string, ...loose()] : string,
                ),
              ),
          ],
        ];
    if (yard.doc.wiring.kind === "parallel") choices.push(["make them a string of their own", () => wire([...strings(), loose()])]);
    const list = html("span", { class: "wire-choices" });
    choices.forEach(([text, made]) => {
      const button = html("button", { type: "button", class: "link", text });
      button.addEventListener("click", () => {
        const wiring = made();
        yard.change((doc) => (doc.wiring = wiring));
      });
      list.append(button);
    });
    line.append(list);
    parts.push(line);
  }
  place.replaceChildren(...parts);
  if (focused) one(`[data-panel="${focused}"]`)?.focus();
  return null;
}

yard.listen(() => yard.section() && draw());
document.addEventListener("DOMContentLoaded", () => {
  if (!yard.section()) return;
  draw();
  one("#wiring-kind").addEventListener("change", (event) => {
    const kind = event.target.value;
    const half = strings().flat();
    const split =
      kind === "parallel" && strings().length < 2 && half.length > 1
        ? [half.slice(0, Math.ceil(half.length / 2)), half.slice(Math.ceil(half.length / 2))]
        : kind === "series"
          ? [strings().flat()]
          : [];
    current = null;
    yard.change((doc) => (doc.wiring = { kind, strings: kind === "own" ? [] : split, unwired: loose() }));
  });
});
