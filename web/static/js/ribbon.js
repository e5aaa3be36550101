// The chosen day: a bead that is dragged, arrowed or typed. Drawings show it at once, figures follow when it rests.
import { csrfToken } from "./page.js";

const MONTHS = "January February March April May June July August September October November December".split(" ");
const LENGTHS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
const bead = () => document.getElementById("day");
const typed = () => document.getElementById("day-text");
let waiting;

function spoken(day) {
  let rest = Number(day);
  let month = 0;
  while (rest >= LENGTHS[month]) rest -= LENGTHS[month++];
  return `${rest + 1} ${MONTHS[month]}`;
}

function show(day) {
  bead().value = day;
  bead().setAttribute("aria-valuetext", spoken(day));
  typed().value = spoken(day);
  typed().removeAttribute("aria-invalid");
  const per = (26 + (day / 364) * 1228) / 12.8;
  const line = document.getElementById("bead-line");
  line?.setAttribute("x1", `${per}%`);
  line?.setAttribute("x2", `${per}%`);
  for (const mark of document.querySelectorAll("[data-day-x]")) {
    const [left, right] = mark.dataset.dayX.split(",").map(Number);
    mark.setAttribute("d", mark.getAttribute("d").replace(/^M[\d.]+/, `M${(left + (day / 364) * (right - left)).toFixed(1)}`));
  }
}

async function keep(day) {
  const body = new URLSearchParams({ day });
  const answer = await fetch(bead().dataset.post, { method: "POST", body, headers: { "X-CSRFToken": csrfToken(), "HX-Request": "true" } });
  if (!answer.ok) {
    typed().setAttribute("aria-invalid", "true");
    typed().title = answer.status === 422 ? await answer.text() : "The day could not be kept.";
    document.getElementById("state").textContent = answer.status === 422 ? typed().title : "not saved";
    return;
  }
  show(JSON.parse(answer.headers.get("HX-Trigger"))["day-changed"].day);
  document.getElementById("state").textContent = "saved";
  htmx.ajax("GET", bead().dataset.answer, { target: "#answer", swap: "innerHTML" });
}

function later(day) {
  clearTimeout(waiting);
  waiting = setTimeout(() => keep(day), 180);
}

export function moveDay(step) {
  const day = (Number(bead().value) + step + 365) % 365;
  show(day);
  later(day);
}
document.addEventListener("input", (event) => {
  if (event.target === bead()) {
    show(bead().value);
    later(bead().value);
  }
});
document.addEventListener("keydown", (event) => {
  if (event.target === bead() && event.shiftKey && event.key.startsWith("Arrow")) {
    event.preventDefault();
    moveDay(["ArrowLeft", "ArrowDown"].includes(event.key) ? -7 : 7);
  }
  if (event.target === typed() && event.key === "Enter") {
    event.preventDefault();
    keep(typed().value);
  }
});
document.addEventListener("change", (event) => {
  if (event.target === typed()) keep(typed().value);
});
