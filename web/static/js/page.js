// What every module of a page uses: finding and making elements, and the newest token for requests.
/** @param {string} selector @param {any} root */
export const one = (selector, root = document) => root.querySelector(selector);
export const all = (selector, root = document) => [...root.querySelectorAll(selector)];
export const cookie = (name) =>
  document.cookie
    .split("; ")
    .find((part) => part.startsWith(`${name}=`))
    ?.slice(name.length + 1) || "";
export const csrfToken = () => cookie("csrftoken") || one("[name=csrfmiddlewaretoken]")?.value || "";

// The mark of the session that this browser was last seen with: pages that were kept under another are shown to nobody.
const SEAT = "/seat";
export const dropPages = async () => {
  for (const name of await caches.keys()) await caches.delete(name);
};
let seated = null;
export const settleSeat = () => (seated ||= settle());
async function settle() {
  const { seat } = document.body.dataset;
  if (!self.caches || seat === undefined || !navigator.onLine) return;
  const held = await (await caches.open("seat")).match(SEAT);
  if ((held && (await held.text())) === seat) return;
  await dropPages();
  await (await caches.open("seat")).put(SEAT, new Response(seat));
}

// A page that opens again without a connection: its worker is told what the page is made of.
export function keepPage() {
  document.addEventListener("DOMContentLoaded", async () => {
    const worker = one("[data-worker]")?.dataset.worker;
    if (!worker || !("serviceWorker" in navigator)) return;
    try {
      await navigator.serviceWorker.register(worker);
      const { active } = await navigator.serviceWorker.ready;
      await settleSeat();
      const tell = () => {
        const parts = performance.getEntriesByType("resource").map((entry) => entry.name);
        active.postMessage([location.href.split("#")[0], ...parts.filter((name) => new URL(name).pathname.startsWith("/static/"))]);
      };
      tell();
      new PerformanceObserver(tell).observe({ type: "resource" }); // a face of type may come after the rest
    } catch {
      // no secure connection, or a browser that keeps nothing: the page works while it is open
    }
  });
}

const SVG = "http://www.w3.org/2000/svg";

export function el(name, attributes = {}, ...children) {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  made.append(...children);
  return made;
}

export function html(name, attributes = {}, ...children) {
  const made = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) {
    if (key === "text") made.textContent = value;
    else made.setAttribute(key, value);
  }
  made.append(...children);
  return made;
}
