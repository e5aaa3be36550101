// The yard's state in this tab: the document, what is selected, undo and redo, saving, and figures while dragging.
import { History } from "./history.js";
import { remember } from "./keep.js";
import { formatLength, parseLength } from "./lengths.js";
import { csrfToken, one } from "./page.js";

export const yard = {
  doc: null,
  fellows: [],
  ownHouse: [],
  selected: null,
  listeners: [],
  history: new History(),
  window: [-10, -10, 10, 10],
  size: [4, 2, 0, 180],
};
let answered = ""; // the document that was saved last; the next request may be on its way already
let taken = null;
let waiting;

yard.section = () => one("#yard");
yard.us = () => yard.section()?.dataset.units === "us";
// Metres of what was typed, so that the drawing follows at once; the server reads it again, and has the last word.
yard.number = (value, usual = 0) => {
  if (typeof value === "number") return value;
  const metres = parseLength(value, yard.us());
  return Number.isNaN(metres) ? usual : metres;
};
yard.metres = (value) => formatLength(value, yard.us());
yard.thing = (name) => yard.doc.objects.find((thing) => thing.name === name);
yard.points = (thing) => thing.footprint || thing.line || [thing.at];
// How high a thing reaches: of an array, its upper edge at its steepest.
yard.height = (thing) => {
  if (thing.kind !== "array") return yard.number(thing.ridge ?? thing.height);
  const steep = Math.max(...[thing.tilt].flat().map((tilt) => Math.abs(yard.number(tilt))));
  return (
    yard.number(thing.clearance, 0.5) +
    yard.number(thing.slope_length) * (thing.on_pole ? 0.5 + Math.sin((steep * Math.PI) / 180) / 2 : Math.sin((steep * Math.PI) / 180))
  );
};
yard.listen = (how) => yard.listeners.push(how);
yard.say = (text, refused = false) => {
  one("#plan-said").textContent = text || "\u00a0";
  one("#plan-said").classList.toggle("refusal", refused);
};

function tell(what) {
  for (const how of yard.listeners) how(what);
  one("#undo").disabled = !yard.history.done.length;
  one("#redo").disabled = !yard.history.undone.length;
}
yard.draw = () => tell("draw");

yard.select = (name, focus) => {
  yard.selected = name;
  tell("select");
  if (focus) one(`[data-thing="${CSS.escape(name)}"]`, one("#plan"))?.focus();
};

// A change: kept for undo, drawn at once, saved when it rests. Changes of one kind in quick succession undo together.
yard.change = (how, kind = "") => {
  const before = JSON.stringify(yard.doc);
  how(yard.doc);
  if (JSON.stringify(yard.doc) === before) return;
  yard.history.changed(before, kind);
  tell("change");
  yard.save(kind ? 350 : 30);
};
function step(state, word) {
  if (state === null) return yard.say(`Nothing to ${word}.`);
  yard.doc = JSON.parse(state);
  if (yard.selected && !["array", "area"].includes(yard.selected) && !yard.thing(yard.selected)) yard.selected = null;
  tell("change");
  yard.say(word === "undo" ? "Undone." : "Done again.");
  yard.save(30);
  return null;
}
yard.undo = () => step(yard.history.undo(JSON.stringify(yard.doc)), "undo");
yard.redo = () => step(yard.history.redo(JSON.stringify(yard.doc)), "redo");

yard.save = (after) => {
  const field = one("#document");
  field.value = JSON.stringify(yard.doc);
  remember(field.form);
  yard.section().setAttribute("aria-busy", "true");
  clearTimeout(waiting);
  waiting = setTimeout(() => htmx.trigger(field.form, "yard-changed"), after);
};

// With its figures the saved document comes back, lengths in metres and names mended: taken over unless something was
// changed or saved since.
yard.take = () => {
  const data = one("#yard-data");
  if (!data || data === taken) return;
  taken = data;
  const size = JSON.parse(data.dataset.size || "null");
  if (size) yard.size = size;
  yard.window = JSON.parse(data.dataset.window || "null") || yard.window;
  yard.fellows = JSON.parse(data.dataset.fellows || "[]");
  yard.ownHouse = JSON.parse(data.dataset.ownHouse || "[]");
  if (JSON.stringify(yard.doc) === answered && data.dataset.version === one("#version").value) {
    yard.doc = JSON.parse(data.dataset.document);
    if (yard.selected && !["array", "area"].includes(yard.selected) && !yard.thing(yard.selected)) yard.selected = null;
    one("#document").value = answered = JSON.stringify(yard.doc);
    tell("saved");
  } else tell("draw");
};

// Figures of a draft: one question on its way at a time, the newest asked next.
let asking = false;
let next = false;
yard.preview = async () => {
  if (asking) return (next = true);
  asking = true;
  const body = new URLSearchParams({ document: JSON.stringify(yard.doc) });
  try {
    const answer = await fetch(yard.section().dataset.figures, { method: "POST", body, headers: { "X-CSRFToken": csrfToken(), "HX-Request": "true" } });
    const found = await answer.json();
    yard.figures = found;
    yard.say(
      found.error ||
        `Here it would make ${found.energy.toLocaleString("en").replaceAll(",", "\u202f")} kWh a year (${found.gain < 0 ? "−" : "+"}${Math.abs(Math.round(found.gain))}), ${found.season_gain < 0 ? "−" : "+"}${Math.abs(Math.round(found.season_gain))} of it ${found.season}.`,
      Boolean(found.error),
    );
  } catch {
    yard.say("No figures just now: the server cannot be reached.");
  }
  asking = false;
  if (next) {
    next = false;
    yard.preview();
  }
};

document.addEventListener("DOMContentLoaded", () => {
  if (!yard.section()) return;
  // What is typed into the fields beside the plan goes into the document, not into the form by itself.
  for (const part of ["#numbers", "#measure", "#ground", "#wiring", "#files"]) one(part)?.addEventListener("change", (event) => event.stopPropagation());
  const data = one("#yard-data").dataset;
  yard.doc = JSON.parse(data.document);
  yard.size = JSON.parse(data.size || "null") || yard.size;
  yard.window = JSON.parse(data.window || "null") || yard.window;
  yard.fellows = JSON.parse(data.fellows || "[]");
  yard.ownHouse = JSON.parse(data.ownHouse || "[]");
  one("#document").value = answered = JSON.stringify(yard.doc);
  taken = one("#yard-data");
  setTimeout(yard.draw); // once every part of the station has set itself up
  one("#undo").addEventListener("click", yard.undo);
  one("#redo").addEventListener("click", yard.redo);
});
document.addEventListener("kept:restored", () => {
  if (!yard.section() || !one("#document").value) return;
  yard.doc = JSON.parse(one("#document").value);
  tell("change");
});
document.addEventListener("htmx:afterSettle", () => yard.section() && yard.take());
document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.requestConfig?.elt?.id === "station-form" && yard.doc) answered = event.detail.requestConfig.parameters.document;
});
// A refusal stands beside the numbers, which may be out of sight: it is told under the plan too.
document.addEventListener("htmx:oobAfterSwap", (event) => {
  if (event.detail.target?.id !== "err-document" || !yard.section()) return;
  const said = one("#err-document").textContent.trim();
  if (said) yard.say(said, true);
  else if (one("#plan-said").classList.contains("refusal")) yard.say("");
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.elt?.id === "station-form" && yard.doc && one("#document").value === event.detail.requestConfig.parameters.document)
    yard.section().removeAttribute("aria-busy");
});
document.addEventListener("click", (event) => {
  const mine = event.target.closest("#put-mine");
  if (!mine) return;
  one("#version").value = mine.dataset.version;
  yard.save(10);
});
document.addEventListener("keydown", (event) => {
  if (!yard.section() || !(event.ctrlKey || event.metaKey) || event.target.closest("input:not([type=range]):not([type=radio]):not([type=checkbox]), textarea"))
    return;
  const key = event.key.toLowerCase();
  if (key === "z" || key === "y") {
    event.preventDefault();
    if (key === "y" || event.shiftKey) yard.redo();
    else yard.undo();
  }
});
