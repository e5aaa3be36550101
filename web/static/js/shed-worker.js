// Keeps the page of the shed in the phone, so that it opens again without a connection. The newest answer of the server always wins;
// where it says that the page is not for this person any more, what was kept is dropped. A page is shown only under the session that it
// was kept under: its mark (X-Seat) must be the one that this browser was last seen with.
const KEPT = `shed:${self.registration.scope}`;
const SEAT = "/seat";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function seat() {
  const held = await (await caches.open("seat")).match(SEAT);
  return held ? held.text() : "";
}

async function page(request) {
  let answer;
  try {
    answer = await fetch(request);
  } catch (lost) {
    const held = await (await caches.open(KEPT)).match(request, { ignoreSearch: true, ignoreVary: true });
    const mark = held?.headers.get("X-Seat");
    if (mark && mark === (await seat())) return held;
    throw lost;
  }
  const mark = answer.headers.get("X-Seat");
  if (answer.ok && !answer.redirected && mark) {
    const kept = await caches.open(KEPT);
    await kept.put(request, answer.clone());
    await (await caches.open("seat")).put(SEAT, new Response(mark));
  } else if (answer.status < 500) await caches.delete(KEPT);
  return answer;
}

async function part(request) {
  const kept = await caches.open(KEPT);
  const held = await kept.match(request);
  if (held) return held;
  const answer = await fetch(request);
  if (answer.ok) await kept.put(request, answer.clone());
  return answer;
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const path = new URL(request.url).pathname;
  if (request.method !== "GET") return;
  if (request.mode === "navigate" && request.url.startsWith(self.registration.scope)) event.respondWith(page(request));
  else if (path.startsWith("/static/")) event.respondWith(part(request));
});

// The page tells what it is made of: it was loaded before this worker stood between it and the server.
self.addEventListener("message", (event) => {
  event.waitUntil(
    caches.open(KEPT).then((kept) =>
      Promise.allSettled(
        event.data.map(async (address) => {
          if (!(await kept.match(address))) await kept.add(address);
        }),
      ),
    ),
  );
});
