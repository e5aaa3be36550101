const KEY = "kept:";
const here = KEY + location.pathname;

const read = (key) => JSON.parse(sessionStorage.getItem(key) || "null");
const fields = (form) =>
  [...form.elements].filter(
    (field) => field.name && !["csrfmiddlewaretoken", "version"].includes(field.name) && field.type !== "file" && field.type !== "password",
  );

export function remember(form) {
  const values = {};
  for (const field of fields(form)) {
    if (field.type === "checkbox" || field.type === "radio") {
      if (field.checked) (values[field.name] ||= []).push(field.value);
      else values[field.name] ||= [];
    } else values[field.name] = field.value;
  }
  sessionStorage.setItem(here, JSON.stringify({ values, sent: false }));
}

function restore(form) {
  const kept = read(here);
  if (!kept) return false;
  let changed = false;
  for (const field of fields(form)) {
    const value = kept.values[field.name];
    if (value === undefined) continue;
    if (field.type === "checkbox" || field.type === "radio") {
      const checked = value.includes(field.value);
      changed ||= field.checked !== checked;
      field.checked = checked;
    } else {
      changed ||= field.value !== value;
      field.value = value;
    }
  }
  if (!changed) sessionStorage.removeItem(here);
  return changed;
}

export const forget = () => sessionStorage.removeItem(here);

// What a save on its way holds; when the server says that it is kept, and nothing was typed meanwhile, it is typed no more.
let onItsWay = null;
export const sending = () => (onItsWay = sessionStorage.getItem(here));
export const wasSaved = () => sessionStorage.getItem(here) === onItsWay && forget();

document.addEventListener("DOMContentLoaded", () => {
  const signingIn = document.querySelector('input[type="password"]');
  // A step that was sent and led to another page is saved.
  if (!signingIn) {
    for (const key of Object.keys(sessionStorage)) {
      if (key.startsWith(KEY) && key !== here && read(key)?.sent) sessionStorage.removeItem(key);
    }
  }
  const form = document.querySelector("form[data-keep]");
  if (!form) return;
  // After every part of the page has set itself up: what it shows of the server's must not cover what is given back.
  setTimeout(() => giveBack(form));
  for (const kind of ["input", "change"]) {
    document.addEventListener(kind, (event) => {
      if (event.target.form === form) remember(form);
    });
  }
  form.addEventListener("submit", () => {
    remember(form);
    sessionStorage.setItem(here, JSON.stringify({ ...read(here), sent: true }));
  });
});

function giveBack(form) {
  const refused = form.querySelector('[aria-invalid="true"]');
  if (!refused && restore(form)) {
    const told = document.createElement("p");
    told.className = "told";
    told.setAttribute("role", "status");
    told.textContent = "What you had typed before is back, not saved yet. ";
    const drop = document.createElement("button");
    drop.type = "button";
    drop.className = "link";
    drop.textContent = "Drop it";
    drop.addEventListener("click", () => {
      forget();
      location.reload();
    });
    if (form.id === "station-form") {
      const save = document.createElement("button");
      save.type = "button";
      save.className = "link";
      save.textContent = "Save it";
      save.addEventListener("click", () => {
        form.requestSubmit();
        told.remove();
      });
      told.append(save, " ");
    }
    told.append(drop);
    (document.querySelector(".head") || form.parentElement).prepend(told);
    form.dispatchEvent(new CustomEvent("kept:restored", { bubbles: true }));
  }
}
