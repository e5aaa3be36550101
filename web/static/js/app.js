// What every page needs: requests that carry the newest token, questions that depend on an answer, keys, small comforts.

import { forget, sending, wasSaved } from "./keep.js";
import { all, csrfToken, dropPages, one, settleSeat } from "./page.js";
import { moveDay } from "./ribbon.js";

function state(text) {
  const place = one("#state");
  if (place) place.textContent = text;
  markState();
}
// Not saved is told by colour and shape too, whoever wrote the words.
const markState = () => one("#state")?.classList.toggle("not", one("#state").textContent.startsWith("not"));

function notice(text, link) {
  const place = one("#notice");
  if (!place) return;
  const line = document.createElement("p");
  line.className = "told warn";
  line.setAttribute("role", "alert");
  line.textContent = `${text} `;
  if (link) {
    const anchor = document.createElement("a");
    anchor.href = link.href;
    anchor.textContent = link.text;
    line.append(anchor);
  }
  place.replaceChildren(line);
}

// The token changes with a sign-in in another tab: take it from the cookie at the moment of sending.
document.addEventListener("htmx:configRequest", (event) => {
  event.detail.headers["X-CSRFToken"] = csrfToken();
  if (event.detail.parameters.csrfmiddlewaretoken !== undefined) event.detail.parameters.csrfmiddlewaretoken = csrfToken();
});
document.addEventListener("htmx:beforeRequest", (event) => {
  if (event.detail.elt.id !== "station-form") return;
  state("saving…");
  sending();
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.elt.id !== "station-form" || !event.detail.successful) return;
  if (event.detail.xhr.getResponseHeader("HX-Trigger")?.includes("form-saved")) wasSaved();
  markRefused();
});
document.addEventListener("htmx:responseError", (event) => {
  const status = event.detail.xhr.status;
  state("not saved");
  if (status === 401)
    notice("You were signed out. What you typed is kept in this tab:", {
      href: `/account/sign-in/?next=${encodeURIComponent(location.pathname)}`,
      text: "sign in and go on",
    });
  else if (status === 404 || status === 410)
    notice("This build was thrown away in another window, so nothing was saved.", { href: "/builds/", text: "to my builds" });
  else if (status === 413 || status === 429) notice(event.detail.xhr.responseText);
  else if (status === 507) notice("The server's disk is full: this change was not kept. Everything saved before is safe.");
  else if (status === 503) notice("The database is away for a moment. Nothing saved is lost; change the field once more in a few seconds.");
  else if (status === 403) notice("This page waited too long.", { href: location.pathname, text: "load it again; what you typed is kept" });
  else notice("That did not work; what was saved is safe. Try once more.");
});
document.addEventListener("htmx:sendError", () => {
  state("not saved");
  notice("The server cannot be reached. What you typed is kept; try again in a moment.");
});

function markRefused() {
  for (const place of all(".refusal[id^=err-]")) {
    const name = place.id.slice(4);
    for (const field of all(`[name="${CSS.escape(name)}"]`)) {
      if (place.textContent.trim()) field.setAttribute("aria-invalid", "true");
      else field.removeAttribute("aria-invalid");
    }
    const fold = place.textContent.trim() && place.closest("details");
    if (fold) fold.open = true;
  }
}

// Questions that depend on an answer: data-when="kind=fixed,stepped".
function answerOf(name) {
  const fields = all(`[name="${CSS.escape(name)}"]`);
  const chosen = fields.find((field) => (field.type === "radio" || field.type === "checkbox" ? field.checked : true));
  return chosen ? chosen.value : "";
}
function showWhatFits() {
  for (const part of all("[data-when]")) {
    const fits = (told) =>
      told
        .split("=")[1]
        .split(",")
        .includes(answerOf(told.split("=")[0]));
    part.hidden = !fits(part.dataset.when) && !(part.dataset.or && fits(part.dataset.or));
  }
}

// Figures may arrive while somebody types into what they replace (the day of the ribbon): what was typed goes over.
document.addEventListener("htmx:oobBeforeSwap", (event) => {
  const typed = document.activeElement;
  const fresh = typed?.id && event.detail.fragment.querySelector?.(`#${CSS.escape(typed.id)}`);
  if (fresh && event.detail.target.contains(typed) && typed.value !== typed.defaultValue) fresh.value = typed.value;
});

// New figures replace the answer: folds that were open stay so, and what was in focus there keeps it (htmx does so by ids alone).
let left = null;
const headOf = (fold) => fold.querySelector("summary")?.textContent.trim();
const alike = (element) => {
  const name = ["bar", "written"].find((key) => key in element.dataset);
  if (name) return (other) => other.dataset[name] === element.dataset[name];
  return (other) => other.localName === element.localName && other.textContent.trim() === element.textContent.trim();
};
document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.target?.id !== "answer") return;
  const focused = document.activeElement;
  const keep = event.detail.target.contains(focused) && !focused.id && focused.matches("a, button, summary, [data-bar], [data-written]");
  left = { open: all("#answer details[open]").map(headOf), focused: keep ? alike(focused) : null };
});
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id !== "answer" || !left) return;
  for (const fold of all("#answer details:not(.why)")) if (left.open.includes(headOf(fold))) fold.open = true;
  if (left.focused) all("#answer :is(a, button, summary, [data-bar], [data-written])").find(left.focused)?.focus({ preventScroll: true });
  left = null;
});

function settle() {
  markState();
  showWhatFits();
  markRefused();
}
document.addEventListener("change", showWhatFits);
document.addEventListener("kept:restored", settle);
document.addEventListener("htmx:afterSettle", showWhatFits);
document.addEventListener("htmx:oobAfterSwap", markState);
// Small forms beside the station's own say which version they were looked at in: the one that was just saved.
const BESIDE = "form:not(#station-form):has(input[name=version])";
function takeVersion() {
  const version = document.getElementById("version")?.value;
  for (const field of version ? all(`${BESIDE} input[name=version]`) : []) field.value = version;
}
document.addEventListener("htmx:afterSettle", takeVersion);
// What is pressed there while an answer is still on its way to the server waits for it: else it would look like two tabs.
let coming = 0;
let changedAt = -1e9;
const busy = () => coming > 0 || performance.now() - changedAt < 150;
document.addEventListener("change", (event) => {
  if (event.target.form?.id === "station-form") changedAt = performance.now();
});
document.addEventListener("htmx:beforeSend", (event) => {
  if (event.detail.elt.id === "station-form") coming += 1;
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.elt.id === "station-form") coming -= 1;
});
const sameIn = (form, button) => button && all("button[name]").find((one) => one.form === form && one.name === button.name && one.value === button.value);
function pressLater(form, button, until) {
  if (busy() && performance.now() < until) {
    setTimeout(() => pressLater(form, button, until), 40);
    return;
  }
  // The answer may have brought the form anew.
  const now = form.isConnected ? form : all("form").find((other) => other.getAttribute("action") === form.getAttribute("action"));
  if (!now) return;
  takeVersion();
  now.dataset.waited = "1";
  now.requestSubmit(button?.isConnected ? button : (sameIn(now, button) ?? null));
  delete now.dataset.waited;
}
document.addEventListener(
  "submit",
  (event) => {
    const form = event.target;
    if (!form.matches(BESIDE) || form.dataset.waited || !busy()) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    pressLater(form, event.submitter, performance.now() + 10000);
  },
  true,
);
document.addEventListener("DOMContentLoaded", settle);

// A form that makes something is sent once, however often its button is pressed.
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.matches("[data-once]")) return;
  if (form.dataset.sent) event.preventDefault();
  form.dataset.sent = "1";
  setTimeout(() => delete form.dataset.sent, 8000);
});
window.addEventListener("pageshow", () => all("form[data-once]").forEach((form) => delete form.dataset.sent));
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
  if (event.target.closest("[data-forget]")) forget();
  for (const help of all("details.why[open]")) if (!help.contains(event.target)) help.open = false;
});

// On a phone the groups of stations open above their bar, one at a time.
function openGroup(button) {
  for (const other of all(".rail-open")) other.setAttribute("aria-expanded", String(other === button && other.getAttribute("aria-expanded") !== "true"));
}
document.addEventListener("click", (event) => {
  const button = event.target.closest(".rail-open");
  if (button || !event.target.closest(".rail")) openGroup(button);
});

// Single keys can be switched off, for speech input and for hands that brush the keys; the browser remembers it.
const singleKeys = () => localStorage.getItem("single-keys") !== "off";
document.addEventListener("DOMContentLoaded", () => {
  const box = one("#single-keys");
  box.checked = singleKeys();
  box.addEventListener("change", () => localStorage.setItem("single-keys", box.checked ? "on" : "off"));
});

// Keys. None while something is being typed.
const typing = (target) => target.closest("input:not([type=range]):not([type=radio]):not([type=checkbox]), select, textarea, [contenteditable]");
document.addEventListener("keydown", (event) => {
  if (event.key === "Escape") all("details.why[open]").forEach((help) => (help.open = false));
  if (event.key === "Escape") openGroup(null);
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
  if (!singleKeys() && event.key.length === 1) return; // switched off: only keys with a name still work
  const station = /^\d$/.test(event.key) && one(`#rail a[data-number="${Number(event.key) || 10}"]`);
  if (station && !event.target.closest("[type=radio]")) station.click();
  else if (event.key === "?") bootstrap.Modal.getOrCreateInstance(one("#keys")).show();
  else if (event.key === "b") one(".brand")?.click();
  else if (event.key === "l" && !one("[data-log]")) one('#rail a[href$="/log/"]')?.click();
  else if (event.key === "d" && one("#day-text")) {
    event.preventDefault();
    one("#day-text").focus();
    one("#day-text").select();
  } else if (event.key === "t") {
    const tables = all("details.behind");
    const open = tables.some((table) => !table.open);
    tables.forEach((table) => (table.open = open));
  } else if ((event.key === "ArrowLeft" || event.key === "ArrowRight") && !event.target.closest("[type=radio], [type=range], [role=slider]") && one("#day")) {
    moveDay((event.key === "ArrowLeft" ? -1 : 1) * (event.shiftKey ? 7 : 1));
    event.preventDefault();
  }
});

// Signing out leaves no page in the phone that was kept for the shed, nor does anybody else who signs in, or a session that ended.
document.addEventListener("submit", (event) => {
  if (event.target.action?.endsWith("/account/sign-out/") && self.caches) dropPages();
});
document.addEventListener("DOMContentLoaded", settleSeat);
