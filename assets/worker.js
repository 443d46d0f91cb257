/*
 * Keeps what was taken along: the sheets of a stop and what they need to be drawn. Everything is asked of the network first; what does not
 * come in time, or not at all, comes from the store. It never keeps what nobody took along.
 */
(function () {
    var STORE = 'along-1';
    var PATIENCE = 4000;

    self.addEventListener('install', function () { self.skipWaiting(); });
    self.addEventListener('activate', function (event) { event.waitUntil(self.clients.claim()); });

    function isKept(url) { return /\/bench\/along$/.test(url.pathname) || url.pathname.indexOf('/build/') === 0; }

    self.addEventListener('message', function (event) {
        if (!event.data || !event.data.take) { return; }
        event.waitUntil(caches.open(STORE).then(function (store) {
            return Promise.all(event.data.take.map(function (address) {
                return fetch(address, { credentials: 'same-origin' }).then(function (answer) {
                    if (answer.ok && !answer.redirected) { return store.put(address, answer); }
                    return null;
                });
            }));
        }).then(function () { event.source.postMessage({ taken: true }); }, function () { event.source.postMessage({ taken: false }); }));
    });

    self.addEventListener('fetch', function (event) {
        var url = new URL(event.request.url);
        if (event.request.method !== 'GET' || url.origin !== self.location.origin || !isKept(url)) { return; }
        /* A store that was cleared, because somebody left, is not made again by looking into it. */
        event.respondWith(caches.match(event.request, { cacheName: STORE }).then(function (found) {
            var kept = Promise.resolve(found);
            var asked = fetch(event.request).then(function (answer) {
                if (!found || !answer.ok || answer.redirected) { return answer; }
                var fresh = answer.clone();
                event.waitUntil(caches.has(STORE).then(function (there) {
                    return there && caches.open(STORE).then(function (store) { return store.put(event.request, fresh); });
                }));
                return answer;
            });
            var late = new Promise(function (resolve) { setTimeout(resolve, PATIENCE); }).then(function () { return kept; });
            return Promise.race([asked.catch(function () { return kept; }), late.then(function (old) { return old || asked; })])
                .then(function (answer) { return answer || asked; });
        }));
    });
})();
