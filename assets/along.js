/*
 * Marks that are made without a connection: kept in this browser with the time at which they were made, sent in order when there is one
 * again, each until the server has answered for it. What contradicts a mark of somebody else is shown until somebody decides.
 */
(function () {
    var page = document.getElementById('along');
    if (!page) { return; }
    // Of each login its own: on a shared tablet nobody sees, or sends, the marks of another.
    var KEY = 'along ' + page.dataset.login + ' ' + page.dataset.job;
    var words = page.dataset;
    var busy = false;

    function kept() { try { return JSON.parse(localStorage.getItem(KEY)) || []; } catch (e) { return []; } }
    function keep(marks) { localStorage.setItem(KEY, JSON.stringify(marks)); show(); }

    function show() {
        var marks = kept();
        page.querySelectorAll('li[data-step]').forEach(function (li) {
            var mine = marks.filter(function (one) { return one.device === li.dataset.device && one.step === li.dataset.step; }).pop();
            var told = li.querySelector('.mine');
            told.textContent = mine ? words[mine.state] + ' · ' + (mine.why || words.unsent) : '';
            li.classList.toggle('waits', !!mine);
            li.classList.toggle('contradicts', !!(mine && mine.why));
            li.querySelectorAll('.decide button').forEach(function (button) {
                /* Against another person's mark one decides; a mark that is refused is made again with its reason, or dropped. */
                button.hidden = !(mine && mine.why) || (button.dataset.decide === 'drop') === !!mine.contradicts;
            });
        });
        document.getElementById('unsent').textContent = marks.length ? words.count.replace('{n}', marks.length) : words.none;
    }

    function send() {
        var marks = kept().filter(function (one) { return !one.why || one.force; });
        if (busy || !marks.length || !navigator.onLine) { show(); return; }
        busy = true;
        var form = new URLSearchParams();
        form.set('_token', page.dataset.token);
        form.set('marks', JSON.stringify(marks));
        fetch(page.dataset.send, { method: 'POST', body: form, credentials: 'same-origin', redirect: 'manual' }).then(function (answer) {
            if (!answer.ok) { throw new Error(String(answer.status)); }
            return answer.json();
        }).then(function (said) {
            var by = {};
            said.answers.forEach(function (one) { by[one.id] = one; });
            keep(kept().filter(function (one) { return !by[one.id] || by[one.id].why; }).map(function (one) {
                if (by[one.id]) { one.why = by[one.id].why; one.contradicts = by[one.id].contradicts; one.force = false; }
                return one;
            }));
            said.answers.filter(function (one) { return !one.why; }).forEach(function (one) {
                var mark = marks.filter(function (other) { return other.id === one.id; })[0];
                var li = mark && page.querySelector('li[data-device="' + mark.device + '"][data-step="' + mark.step + '"]');
                if (li) { li.className = 'is-' + mark.state; li.querySelector('.there').textContent = words[mark.state]; }
            });
        }).catch(function () { /* they stay, and are sent at the next try */ }).then(function () { busy = false; show(); });
    }

    page.addEventListener('click', function (event) {
        var button = event.target.closest('button');
        var li = button && button.closest('li[data-step]');
        if (!li) { return; }
        var marks = kept();
        var same = function (one) { return one.device === li.dataset.device && one.step === li.dataset.step; };
        if (button.dataset.decide) {
            keep(marks.filter(function (one) { return !same(one) || button.dataset.decide === 'mine'; }).map(function (one) {
                if (same(one)) { one.force = true; }
                return one;
            }));
        } else if (button.dataset.state) {
            var note = li.querySelector('input').value.trim();
            if (button.dataset.state !== 'done' && !note) { li.querySelector('input').focus(); return; }
            keep(marks.filter(function (one) { return !same(one); }).concat({
                id: Date.now().toString(36) + Math.random().toString(36).slice(2, 8),
                device: li.dataset.device,
                step: li.dataset.step,
                state: button.dataset.state,
                note: note,
                at: new Date().toISOString()
            }));
        }
        send();
    });

    var take = document.getElementById('take');
    if ('serviceWorker' in navigator) {
        navigator.serviceWorker.register('/along.js').then(function () { return navigator.serviceWorker.ready; }).then(function (ready) {
            take.disabled = false;
            take.addEventListener('click', function () {
                var needs = Array.prototype.map.call(document.querySelectorAll('link[rel=stylesheet], script[src]'), function (one) { return one.href || one.src; });
                ready.active.postMessage({ take: [location.href].concat(needs) });
            });
        }).catch(function () { take.textContent = words.cannot; });
        navigator.serviceWorker.addEventListener('message', function (event) {
            take.textContent = event.data.taken ? words.taken : words.cannot;
        });
    } else {
        take.textContent = words.cannot;
    }
    window.addEventListener('online', send);
    setInterval(send, 5000);
    show();
    send();
})();
