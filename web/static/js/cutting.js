// The cutting: a letter lights up its piece, its boards and its line of the list; ticks are kept in this phone first and sent when
// there is a connection.
import { all, csrfToken, keepPage, one } from "./page.js";

const letters = (root = document) => all("[data-letter]", root);
let chosen = null;

function pick(letter) {
  chosen = letter;
  for (const part of letters()) {
    part.classList.toggle("picked", part.dataset.letter === letter);
    if (part.matches("button")) part.setAttribute("aria-pressed", String(part.dataset.letter === letter));
  }
  for (const board of all(".board")) {
    board.classList.remove("picked");
    one(".board-title", board)?.setAttribute("aria-pressed", "false");
  }
  const row = letter && all("button.piece").find((button) => button.dataset.letter === letter);
  const said = one("#cut-said");
  if (!said) return;
  const where = all(".board").filter((board) => board.dataset.letters.split(" ").includes(letter)).length;
  said.textContent = row ? `${row.dataset.says}. On ${where} board${where === 1 ? "" : "s"}.` : "Choose a letter: its cut, its board and its angle light up.";
}

function pickBoard(board) {
  pick(null);
  const mine = board.dataset.letters.split(" ");
  board.classList.add("picked");
  one(".board-title", board).setAttribute("aria-pressed", "true");
  for (const part of letters()) part.classList.toggle("picked", mine.includes(part.dataset.letter));
  one("#cut-said").textContent = `${one(".board-title", board).firstChild.textContent.trim()}: ${all(".board-ticks label span", board)
    .map((span) => span.textContent.trim())
    .join(", ")}.`;
}

document.addEventListener("click", (event) => {
  const title = event.target.closest(".board-title");
  if (title) {
    const board = title.closest(".board");
    if (board.classList.contains("picked")) pick(null);
    else pickBoard(board);
    return;
  }
  const part = event.target.closest("[data-letter]");
  if (!part || event.target.closest("label")) return;
  pick(chosen === part.dataset.letter ? null : part.dataset.letter);
});

// Ticks.
const build = () => one("[data-tick-post]")?.dataset.build || document.body.dataset.build;
const address = () => one("[data-tick-post]")?.dataset.tickPost || `${location.pathname}tick/`;
const store = () => `ticks:${build()}`;
const waiting = () => JSON.parse(localStorage.getItem(store()) || "{}");
const keep = (ticks) => localStorage.setItem(store(), JSON.stringify(ticks));
let sending = false;

function show() {
  const count = Object.keys(waiting()).length;
  const state = one("#tick-state");
  if (state) state.textContent = count ? `${count} tick${count === 1 ? " is" : "s are"} kept in this phone and will be sent when there is a connection.` : "";
  const left = one("#shed-left");
  if (left) left.textContent = String(all("[data-cut-tick]:not(:checked)").length);
}

function paint() {
  const ticks = waiting();
  for (const box of all("[data-tick]")) if (box.dataset.tick in ticks) box.checked = ticks[box.dataset.tick] === "1";
  for (const cut of all("[data-cut]")) {
    const box = all("[data-tick]").find((one) => one.dataset.tick === cut.dataset.cut);
    if (box) cut.classList.toggle("done", box.checked);
  }
  show();
}

async function send() {
  if (sending || !build()) return;
  sending = true;
  try {
    for (const [key, done] of Object.entries(waiting())) {
      const answer = await fetch(address(), {
        method: "POST",
        body: new URLSearchParams({ key, done }),
        headers: { "X-CSRFToken": csrfToken(), "HX-Request": "true" },
      });
      if (answer.status === 401) {
        show();
        one("#tick-state").textContent += " You were signed out: sign in again, nothing is lost.";
        break;
      }
      if (!answer.ok && answer.status !== 422) break;
      const ticks = waiting();
      if (ticks[key] === done) delete ticks[key]; // ticked again meanwhile: that is sent next
      keep(ticks);
    }
  } catch {
    // no connection: tried again below
  }
  sending = false;
  show();
}

document.addEventListener("change", (event) => {
  const box = event.target.closest("[data-tick]");
  if (!box) return;
  event.stopPropagation();
  keep({ ...waiting(), [box.dataset.tick]: box.checked ? "1" : "0" });
  for (const twin of all("[data-tick]")) if (twin.dataset.tick === box.dataset.tick) twin.checked = box.checked;
  paint();
  send();
});
document.addEventListener("DOMContentLoaded", () => {
  paint();
  send();
  setInterval(send, 15000);
});
document.addEventListener("htmx:afterSettle", paint);

// The page of the shed opens again without a connection.
keepPage();
addEventListener("online", send);
