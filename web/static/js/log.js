// The log: what is typed is kept in this browser first, shown as waiting, sent when there is a connection, and never twice: each entry has
// its own number. Files go in pieces.
import { all, csrfToken, keepPage, one } from "./page.js";

const DATABASE = "log";
const root = () => one("[data-log]");
const build = () => root()?.dataset.build;
const account = () => document.body.dataset.account;

// IndexedDB, because a photo waits too.
function store(mode) {
  return new Promise((done, failed) => {
    const asked = indexedDB.open(DATABASE, 1);
    asked.onupgradeneeded = () => asked.result.createObjectStore("waiting", { keyPath: "id" });
    asked.onerror = () => failed(asked.error);
    asked.onsuccess = () => done(asked.result.transaction("waiting", mode).objectStore("waiting"));
  });
}
const settled = (request) =>
  new Promise((done, failed) => {
    request.onsuccess = () => done(request.result);
    request.onerror = () => failed(request.error);
  });
const waiting = async () =>
  (await settled((await store("readonly")).getAll()))
    .filter((entry) => entry.build === build() && (!entry.account || entry.account === account()))
    .sort((a, b) => a.kept - b.kept);
const keep = async (entry) => settled((await store("readwrite")).put(entry));
const drop = async (id) => settled((await store("readwrite")).delete(id));

const NAMES = { move: "moved", reading: "reading", change: "change", inspection: "inspection", note: "note" };
function told(entry) {
  const fields = Object.fromEntries(entry.fields);
  const value =
    entry.kind === "move"
      ? `${fields.tilt}°`
      : entry.kind === "reading"
        ? `${fields.power || fields.volts || fields.quantity || ""} ${fields.power ? "W" : ""}`
        : fields.what || fields.note;
  return `${NAMES[entry.kind]} ${value}`.trim();
}

async function show() {
  const list = one("#log-waiting");
  if (!list) return;
  const entries = await waiting();
  list.replaceChildren(
    ...entries.map((entry) => {
      const line = document.createElement("li");
      line.textContent = `${told(entry)}: ${entry.refused ? `refused, ${entry.refused} ` : "waiting, will be sent. "}`;
      line.classList.toggle("refused", Boolean(entry.refused));
      const away = document.createElement("button");
      away.type = "button";
      away.className = "link";
      away.textContent = "throw it away";
      away.addEventListener("click", async () => {
        await drop(entry.id);
        show();
      });
      line.append(away);
      return line;
    }),
  );
}

const say = (text) => {
  const place = one("#log-state");
  if (place) place.textContent = text;
};

function refuse(form, errors) {
  const kind = form.dataset.logEntry;
  for (const place of all(".refusal", form)) place.textContent = "";
  for (const field of all("[aria-invalid]", form)) field.removeAttribute("aria-invalid");
  const lost = [];
  for (const [name, words] of Object.entries(errors)) {
    const place = one(`#err-${kind}-${name}`);
    if (place) {
      place.textContent = words;
      const fold = place.closest("details.more");
      if (fold) fold.open = true;
      one(`#${kind}-${name}`)?.setAttribute("aria-invalid", "true");
    } else lost.push(words);
  }
  say(lost.join(" "));
  one("[aria-invalid]", form)?.focus();
}

async function post(entry) {
  const body = new FormData();
  for (const [name, value] of entry.fields) body.append(name, value);
  if (entry.photo) body.append("photo", entry.photo, "photo.jpg");
  const address = one(`[data-log-entry="${entry.kind}"]`)?.action;
  return fetch(address, { method: "POST", body, headers: { "X-CSRFToken": csrfToken(), "X-Log": "1", "HX-Request": "true" } });
}

let sending = false;
async function send() {
  if (sending || !build()) return 0;
  sending = true;
  let sent = 0;
  try {
    for (const entry of await waiting()) {
      if (entry.refused) continue;
      const answer = await post(entry);
      if (answer.status === 401) {
        say("You were signed out: sign in again, nothing is lost.");
        break;
      }
      if (answer.ok) {
        await drop(entry.id);
        sent += 1;
      } else if (answer.status === 422) {
        const { errors } = await answer.json();
        await keep({ ...entry, refused: Object.values(errors).join(" ") });
      } else break;
    }
  } catch {
    // no connection: tried again later
  }
  sending = false;
  await show();
  if (sent) say(sent === 1 ? "Logged." : `${sent} logged.`);
  if (sent && one("#figures")) htmx.trigger(document.body, "figures-stale");
  return sent;
}

document.addEventListener("submit", async (event) => {
  const form = event.target.closest("[data-log-entry]");
  if (!form) return;
  event.preventDefault();
  const at = new Date();
  const data = new FormData(form);
  const photo = data.get("photo");
  const entry = {
    id: crypto.randomUUID ? crypto.randomUUID() : uuid(),
    build: build(),
    account: account(),
    kind: form.dataset.logEntry,
    kept: at.getTime(),
    fields: [],
  };
  for (const [name, value] of data)
    if (typeof value === "string" && !["csrfmiddlewaretoken", "client_id", "moment"].includes(name)) entry.fields.push([name, value]);
  entry.fields.push(["moment", at.toISOString()]); // it may be sent long after: it was now
  entry.fields.push(["client_id", entry.id]);
  if (photo instanceof File && photo.size) entry.photo = photo;
  say("");
  await keep(entry); // before anything is sent: what happens now loses nothing
  let answer = null;
  try {
    answer = await post(entry);
  } catch {
    say("No connection: it is kept in this phone and will be sent.");
  }
  if (answer?.ok) {
    await drop(entry.id);
    form.reset();
    press(form, null);
    refuse(form, {});
    say("Logged.");
    form.closest("details.tap").open = false;
    if (one("#figures")) htmx.trigger(document.body, "figures-stale");
    else setTimeout(() => location.reload(), 900);
  } else if (answer?.status === 422) {
    await drop(entry.id);
    refuse(form, (await answer.json()).errors);
  } else {
    if (answer?.status === 401) say("You were signed out: it is kept in this phone; sign in again.");
    else if (answer) say("That did not arrive: it is kept in this phone and will be sent.");
    form.reset();
    press(form, null);
    form.closest("details.tap").open = false;
  }
  show();
});

const uuid = () =>
  "10000000-1000-4000-8000-100000000000".replace(/[018]/g, (digit) =>
    (Number(digit) ^ (crypto.getRandomValues(new Uint8Array(1))[0] & (15 >> (Number(digit) / 4)))).toString(16),
  );

// A hole is tapped: that is the tilt.
function press(form, hole) {
  for (const other of all(".hole", form)) other.setAttribute("aria-pressed", String(other === hole));
}
document.addEventListener("click", (event) => {
  const hole = event.target.closest(".hole");
  if (!hole) return;
  const form = hole.closest("form");
  press(form, hole);
  one('[name="tilt"]', form).value = hole.dataset.tilt;
});

document.addEventListener(
  "toggle",
  (event) => {
    const byHand = document.activeElement?.closest("details.tap") === event.target;
    if (byHand && event.target.open) one("input:not([type=hidden]), select", event.target)?.focus({ preventScroll: true });
  },
  true,
);

document.addEventListener("keydown", (event) => {
  if (event.key !== "l" || event.ctrlKey || event.metaKey || event.altKey || localStorage.getItem("single-keys") === "off") return;
  if (event.target.closest("input, select, textarea, [contenteditable]")) return;
  const first = one(".tap.lead");
  if (!first) return;
  event.preventDefault();
  first.open = true;
});

// A file of a monitor goes in pieces, with progress.
document.addEventListener("submit", async (event) => {
  const form = event.target.closest("[data-file-in]");
  const file = form && one('input[type="file"]', form).files[0];
  if (!form || !file) return;
  event.preventDefault();
  const size = Number(form.dataset.part);
  const bar = one("progress", form);
  const refusal = one("#err-file");
  refusal.textContent = "";
  bar.hidden = false;
  const part = async (address, extra, first) => {
    const body = new FormData();
    for (const [name, value] of Object.entries(extra)) body.append(name, value);
    body.append("file", file.slice(first, first + size), file.name);
    const answer = await fetch(address, { method: "POST", body, headers: { "X-CSRFToken": csrfToken(), "X-Log": "1", "HX-Request": "true" } });
    const said = answer.headers.get("content-type")?.includes("json") ? await answer.json() : { error: await answer.text() };
    if (!answer.ok) throw new Error(said.error || "That did not arrive: try once more.");
    bar.value = Math.min(1, (first + size) / file.size);
    return said;
  };
  try {
    const { upload } = await part(form.action, { size: file.size, name: file.name }, 0);
    for (let first = size; first < file.size; first += size) await part(`${form.action}${upload}/part/`, { first }, first);
    location.assign(`${form.action}${upload}/`);
  } catch (error) {
    refusal.textContent = error instanceof TypeError ? "The server cannot be reached; the file was not sent." : error.message;
    bar.hidden = true;
  }
});

document.addEventListener("DOMContentLoaded", () => {
  if (!root()) return;
  show();
  send();
  setInterval(send, 20000);
});
addEventListener("online", send);

// The page for the phone opens again without a connection.
keepPage();
