// Twelve monthly numbers as a row of bars: drag a bar, type below it, or paste all twelve at once. The plain field stays
// the one that is sent.
const LETTERS = "JFMAMJJASOND".split("");
const NAMES = "January February March April May June July August September October November December".split(" ");

function numbers(text) {
  const words =
    text.includes(",") && !text.includes(", ") && !text.includes(";") && text.split(",").length < 3 ? [text.replace(",", ".")] : text.split(/[\s,;]+/);
  const found = words.filter(Boolean).map(Number);
  return found.some(Number.isNaN) ? null : found;
}

function build(field) {
  const high = Number(field.dataset.high);
  const low = Number(field.dataset.low);
  const row = document.createElement("div");
  row.className = "twelve";
  row.setAttribute("role", "group");
  row.setAttribute("aria-label", document.querySelector(`label[for="${field.id}"]`)?.textContent || "twelve numbers");
  const cells = LETTERS.map((letter, i) => {
    const cell = document.createElement("div");
    cell.className = "twelve-cell";
    const bar = document.createElement("div");
    bar.className = "twelve-bar";
    const fill = document.createElement("div");
    fill.className = "twelve-fill";
    bar.append(fill);
    const input = document.createElement("input");
    input.type = "text";
    input.inputMode = "decimal";
    input.setAttribute("aria-label", NAMES[i]);
    input.dataset.part = field.name;
    const name = document.createElement("span");
    name.textContent = letter;
    name.setAttribute("aria-hidden", "true");
    cell.append(bar, input, name);
    row.append(cell);
    return { bar, fill, input };
  });

  const top = () => {
    const values = cells.map((cell) => Number(cell.input.value.replace(",", "."))).filter(Number.isFinite);
    return Math.min(high, Math.max(...values, (high - low) / 12) * 1.15);
  };
  function paint() {
    const most = top();
    for (const cell of cells) {
      const value = Number(cell.input.value.replace(",", "."));
      const share = cell.input.value.trim() && Number.isFinite(value) ? Math.min(Math.max(value, 0) / most, 1) : 0;
      cell.fill.style.height = `${share * 100}%`;
    }
  }
  function show() {
    const found = numbers(field.value) || [];
    const all = found.length === 1 ? Array(12).fill(found[0]) : found;
    cells.forEach((cell, i) => (cell.input.value = all[i] ?? ""));
    paint();
  }
  function send() {
    const values = cells.map((cell) => cell.input.value.trim().replace(",", "."));
    field.value = values.every((value) => !value) ? "" : values.map((value) => value || "?").join(", ");
    paint();
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
  cells.forEach((cell, i) => {
    cell.input.addEventListener("input", (event) => {
      event.stopPropagation();
      send();
    });
    cell.input.addEventListener("change", (event) => {
      event.stopPropagation();
      send();
      field.dispatchEvent(new Event("change", { bubbles: true }));
    });
    cell.input.addEventListener("keydown", (event) => {
      if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
      event.preventDefault();
      const step = high > 50 ? 1 : 0.1;
      const value = Number(cell.input.value.replace(",", ".")) + (event.key === "ArrowUp" ? step : -step);
      cell.input.value = String(Math.round(Math.min(Math.max(value, low), high) * 10) / 10);
      cell.input.dispatchEvent(new Event("change"));
    });
    cell.input.addEventListener("paste", (event) => {
      const pasted = numbers(event.clipboardData.getData("text"));
      if (!pasted || pasted.length < 2) return;
      event.preventDefault();
      pasted.slice(0, 12 - i).forEach((value, n) => (cells[i + n].input.value = value));
      send();
      field.dispatchEvent(new Event("change", { bubbles: true }));
    });
    cell.bar.addEventListener("pointerdown", (event) => {
      event.preventDefault();
      const most = top();
      cell.bar.setPointerCapture(event.pointerId);
      const move = (to) => {
        const box = cell.bar.getBoundingClientRect();
        const share = Math.min(Math.max((box.bottom - to.clientY) / box.height, 0), 1);
        const value = Math.min(share * most, high);
        cell.input.value = String(high > 50 ? Math.round(value) : Math.round(value * 10) / 10);
        cell.fill.style.height = `${share * 100}%`;
      };
      move(event);
      cell.bar.addEventListener("pointermove", move);
      cell.bar.addEventListener(
        "pointerup",
        () => {
          cell.bar.removeEventListener("pointermove", move);
          send();
          field.dispatchEvent(new Event("change", { bubbles: true }));
        },
        { once: true },
      );
    });
  });
  field.hidden = true;
  field.before(row);
  field.addEventListener("twelve:show", show);
  show();
}

const start = () => document.querySelectorAll("input[data-twelve]:not([hidden])").forEach(build);
document.addEventListener("DOMContentLoaded", start);
document.addEventListener("kept:restored", () =>
  document.querySelectorAll("input[data-twelve]").forEach((field) => field.dispatchEvent(new Event("twelve:show"))),
);
