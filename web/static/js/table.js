// A table that is typed row by row: its text field stays the one that is sent, a line a row, cells apart by semicolons. Enter goes down and adds a
// row, several cells are pasted at once from a sheet.
const APART = "; ";

/** @param {string} line */
function cellsOf(line) {
  const mark = line.includes("\t") ? "\t" : ";";
  return line.split(mark).map((cell) => cell.trim());
}

/** @param {HTMLTextAreaElement} field */
function build(field) {
  const heads = field.dataset.columns.split("|");
  const table = document.createElement("table");
  table.className = "typed";
  const label = document.querySelector(`label[for="${field.id}"]`)?.textContent ?? "table";
  table.setAttribute("aria-label", label);
  const head = table.createTHead().insertRow();
  for (const name of heads) {
    const cell = document.createElement("th");
    cell.scope = "col";
    cell.textContent = name;
    head.append(cell);
  }
  const body = table.createTBody();
  /** @param {HTMLTableRowElement} row */
  const inputs = (row) => /** @type {HTMLInputElement[]} */ ([...row.querySelectorAll("input")]);
  const rows = () => /** @type {HTMLTableRowElement[]} */ ([...body.rows]);

  function add(cells = []) {
    const row = body.insertRow();
    heads.forEach((name, column) => {
      const input = document.createElement("input");
      input.type = "text";
      input.autocomplete = "off";
      input.value = cells[column] ?? "";
      input.dataset.part = field.name;
      input.setAttribute("aria-label", `${name}, row ${body.rows.length}`);
      row.insertCell().append(input);
    });
    return row;
  }

  function send() {
    const lines = rows().map((row) => inputs(row).map((input) => input.value.trim().replaceAll(";", ",")));
    field.value = lines
      .filter((cells) => cells.some(Boolean))
      .map((cells) => cells.join(APART).trimEnd())
      .join("\n");
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }

  function spare() {
    const last = rows().at(-1);
    if (!last || inputs(last).some((input) => input.value.trim())) add();
  }

  function show() {
    body.replaceChildren();
    for (const line of field.value.split("\n")) if (line.trim()) add(cellsOf(line));
    spare();
  }

  body.addEventListener("input", (event) => {
    event.stopPropagation();
    spare();
    send();
  });
  body.addEventListener("change", (event) => {
    event.stopPropagation();
    send();
    field.dispatchEvent(new Event("change", { bubbles: true }));
  });
  body.addEventListener("keydown", (event) => {
    if (!["Enter", "ArrowDown", "ArrowUp"].includes(event.key)) return;
    const input = /** @type {HTMLInputElement} */ (event.target);
    event.preventDefault();
    const row = input.closest("tr");
    const column = inputs(row).indexOf(input);
    if (event.key === "Enter" && row === rows().at(-1)) add();
    const at = rows().indexOf(row) + (event.key === "ArrowUp" ? -1 : 1);
    const next = rows()[at];
    if (next) inputs(next)[event.key === "Enter" ? 0 : column].focus();
  });
  body.addEventListener("paste", (event) => {
    const text = event.clipboardData.getData("text");
    if (!/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    const input = /** @type {HTMLInputElement} */ (event.target);
    let at = rows().indexOf(input.closest("tr"));
    const from = inputs(rows()[at]).indexOf(input);
    for (const line of text.split(/\r?\n/).filter((one) => one.trim())) {
      const row = rows()[at] ?? add();
      cellsOf(line).forEach((cell, n) => {
        const to = inputs(row)[from + n];
        if (to) to.value = cell;
      });
      at += 1;
    }
    spare();
    send();
    field.dispatchEvent(new Event("change", { bubbles: true }));
  });
  field.hidden = true;
  field.before(table);
  field.addEventListener("table:show", show);
  show();
}

const startTables = () =>
  document.querySelectorAll("textarea[data-columns]:not([hidden])").forEach((field) => build(/** @type {HTMLTextAreaElement} */ (field)));
document.addEventListener("DOMContentLoaded", startTables);
document.addEventListener("kept:restored", () => {
  for (const field of document.querySelectorAll("textarea[data-columns]")) field.dispatchEvent(new Event("table:show"));
});
