// Keeps the page of the shed in the phone, so that it opens again without a connection. The newest answer of the server always wins;
// where it says that the page is not for this person any more, what was kept is dropped.
const KEPT = `shed:${self.registration.scope}`;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function page(request) {
  const kept = await caches.open(KEPT);
  try {
    const answer = await fetch(request);
    if (answer.ok && !answer.redirected) await kept.put(request, answer.clone());
    else await caches.delete(KEPT);
    return answer;
  } catch (lost) {
    const held = await kept.match(request, { ignoreSearch: true, ignoreVary: true });
    if (held) return held;
    throw lost;
  }
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
