/*
 * Keeps what was taken along: the sheets of a stop and what they need to be drawn. Everything is asked of the network first; what does not
 * come in time, or not at all, comes from the store. It never keeps what nobody took along.
 */
const STORE = 'along-1';
const PATIENCE = 4000;

const isKept = (url) => /\/bench\/along$/.test(url.pathname) || url.pathname.startsWith('/build/');
const sleep = (milliseconds) => new Promise((resolve) => { setTimeout(resolve, milliseconds); });

const take = async (addresses) => {
    const store = await caches.open(STORE);
    await Promise.all(addresses.map(async (address) => {
        const answer = await fetch(address, { credentials: 'same-origin' });
        if (answer.ok && !answer.redirected) { await store.put(address, answer); }
    }));
};

/* A store that was cleared, because somebody left, is not made again by looking into it. */
const renew = async (request, answer) => {
    if (await caches.has(STORE)) { await (await caches.open(STORE)).put(request, answer); }
};

const answer = async (event) => {
    const kept = await caches.match(event.request, { cacheName: STORE });
    const asked = fetch(event.request).then((fresh) => {
        if (kept && fresh.ok && !fresh.redirected) { event.waitUntil(renew(event.request, fresh.clone())); }
        return fresh;
    });
    const first = await Promise.race([asked.catch(() => kept), sleep(PATIENCE).then(() => kept ?? asked)]);
    return first ?? asked;
};

self.addEventListener('install', () => { self.skipWaiting(); });
self.addEventListener('activate', (event) => { event.waitUntil(self.clients.claim()); });

self.addEventListener('message', (event) => {
    if (!event.data?.take) { return; }
    event.waitUntil(take(event.data.take).then(
        () => { event.source.postMessage({ taken: true }); },
        () => { event.source.postMessage({ taken: false }); },
    ));
});

self.addEventListener('fetch', (event) => {
    const url = new URL(event.request.url);
    if (event.request.method === 'GET' && url.origin === self.location.origin && isKept(url)) { event.respondWith(answer(event)); }
});
