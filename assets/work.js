/* Behaviour that all stages share. Pages work without it; with it they are quicker to use. */
/* Two short tones; where the browser has no sound, or nobody touched the page yet, the strip alone says it. */
window.vorhutRing = function () {
    var Sound = window.AudioContext || window.webkitAudioContext;
    if (!Sound) { return; }
    try {
        var sound = new Sound();
        [0, 0.25].forEach(function (at) {
            var tone = sound.createOscillator();
            var level = sound.createGain();
            tone.frequency.value = 880;
            level.gain.value = 0.08;
            tone.connect(level);
            level.connect(sound.destination);
            tone.start(sound.currentTime + at);
            tone.stop(sound.currentTime + at + 0.15);
        });
    } catch (e) { /* the strip says it */ }
};

/* A scanner ends each code like a line: on a sheet that goes on to the next field that is read, and from the last one to the button. */
document.addEventListener('keydown', function (event) {
    if (event.key !== 'Enter' || !event.target.closest || !event.target.closest('.reads')) { return; }
    event.preventDefault();
    var fields = Array.from(event.target.closest('.reads').querySelectorAll('input'));
    var next = fields[fields.indexOf(event.target) + 1] || event.target.form.querySelector('button[value=done]');
    if (next) { next.focus(); }
});

document.addEventListener('alpine:init', function () {
    /* A photo is made smaller before it goes over a slow network; what it said besides the picture stays behind here already. */
    Alpine.data('photo', function () {
        return {
            smaller: function () {
                var field = this.$el;
                var file = field.files[0];
                if (!file || !window.createImageBitmap || !window.DataTransfer) { return; }
                window.createImageBitmap(file, { imageOrientation: 'from-image' }).then(function (picture) {
                    var share = Math.min(1, 1600 / Math.max(picture.width, picture.height));
                    var sheet = document.createElement('canvas');
                    sheet.width = Math.round(picture.width * share);
                    sheet.height = Math.round(picture.height * share);
                    sheet.getContext('2d').drawImage(picture, 0, 0, sheet.width, sheet.height);
                    sheet.toBlob(function (blob) {
                        if (!blob || field.files[0] !== file) { return; }
                        var files = new window.DataTransfer();
                        files.items.add(new window.File([blob], 'photo.jpg', { type: 'image/jpeg' }));
                        field.files = files.files;
                    }, 'image/jpeg', 0.85);
                }, function () { /* the server says what it is */ });
            }
        };
    });
    /* A value that goes into a device: one touch and it is in the clipboard. */
    Alpine.data('copy', function () {
        return {
            take: function () {
                var button = this.$el;
                var text = button.dataset.copy;
                var done = function () {
                    button.dataset.done = '1';
                    setTimeout(function () { delete button.dataset.done; }, 1200);
                };
                if (navigator.clipboard) {
                    navigator.clipboard.writeText(text).then(done, function () { });
                }
            }
        };
    });
    /*
     * A wait that runs on the server: what is left when the page is made is counted down by the clock, not by ticks, so a sleeping tablet
     * does not stretch it. When it is over it rings once.
     */
    Alpine.data('countdown', function () {
        return {
            shown: '',
            init: function () {
                var self = this;
                var root = this.$el;
                var left = Number(root.dataset.left);
                var end = Date.now() + left * 1000;
                var given = root.dataset.left;
                var rings = left > 0;
                var step = function () {
                    if (root.dataset.left !== given) {
                        given = root.dataset.left;
                        end = Date.now() + Number(given) * 1000;
                        rings = Number(given) > 0;
                    }
                    var now = Math.max(0, Math.round((end - Date.now()) / 1000));
                    self.shown = now > 0 ? Math.floor(now / 60) + ':' + String(now % 60).padStart(2, '0') : root.dataset.up;
                    root.classList.toggle('over', now === 0);
                    if (now === 0 && rings) { rings = false; window.vorhutRing(); }
                    if (!document.contains(root)) { clearInterval(tick); }
                };
                var tick = setInterval(step, 250);
                step();
            }
        };
    });
    /* A window of seconds, rehearsed: the clock runs as it will at the device, and begins anew at every touch. */
    Alpine.data('rehearsal', function () {
        return {
            shown: '',
            init: function () { this.shown = this.$el.dataset.seconds + ' s'; },
            start: function () {
                var self = this;
                var root = this.$root;
                var end = Date.now() + Number(root.dataset.seconds) * 1000;
                clearInterval(this.tick);
                this.tick = setInterval(function () {
                    var left = (end - Date.now()) / 1000;
                    self.shown = left > 0 ? left.toFixed(1) + ' s' : root.dataset.up;
                    if (left <= 0 || !document.contains(root)) { clearInterval(self.tick); }
                }, 100);
            }
        };
    });
    Alpine.data('look', function () {
        return {
            turn: function () {
                var root = document.documentElement;
                root.dataset.look = root.dataset.look === 'night' ? 'day' : 'night';
                try { localStorage.setItem('look', root.dataset.look); } catch (e) { /* it holds until the page is left */ }
            }
        };
    });
});

(function () {
    function typing(element) { return element && (/^(INPUT|TEXTAREA|SELECT)$/.test(element.tagName) || element.isContentEditable); }

    document.addEventListener('keydown', function (event) {
        if (event.key === 'Escape') {
            var open = document.getElementById('help');
            if (open) { open.hidden = true; }
            if (typing(document.activeElement)) { document.activeElement.blur(); }
            return;
        }
        if (typing(document.activeElement)) { return; }
        if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
            var form = document.getElementById(event.shiftKey ? 'redo' : 'undo');
            if (form) { event.preventDefault(); form.requestSubmit(); }
            return;
        }
        if (event.ctrlKey || event.metaKey || event.altKey) { return; }
        if (/^[1-7]$/.test(event.key)) {
            var stage = document.querySelector('.stages a[data-key="' + event.key + '"]');
            if (stage) { stage.click(); }
        } else if (event.key === '/') {
            var search = document.getElementById('search');
            if (search) { event.preventDefault(); search.focus(); }
        } else if (event.key === '?') {
            var help = document.getElementById('help');
            if (help) { help.hidden = !help.hidden; }
        }
    });

    document.addEventListener('click', function (event) {
        if (event.target.closest('[data-help]')) {
            var help = document.getElementById('help');
            help.hidden = !help.hidden;
        }
    });

    /* A field edited in place is sent when one leaves it; a question form when an answer is picked. */
    document.addEventListener('change', function (event) {
        var form = event.target.closest('form.cell, form.asks');
        if (form) { form.requestSubmit(); }
    });

    /* On a small screen the stages are longer than the screen: the stage one is at comes into sight. */
    function showStage() {
        var here = document.querySelector('.stages a[aria-current]');
        var road = here && here.closest('ol');
        if (road && road.scrollWidth > road.clientWidth) { road.scrollLeft = here.offsetLeft - (road.clientWidth - here.offsetWidth) / 2; }
    }
    document.addEventListener('DOMContentLoaded', showStage);
    document.addEventListener('htmx:after:swap', showStage);

    /* While somebody types, the page does not change under the hands. */
    var dirty = false;
    document.addEventListener('input', function (event) { dirty = !event.target.closest('form.cell, .search'); });
    document.addEventListener('submit', function () { dirty = false; });
    /*
     * Nor does a refresh take the place of what a form's answer has to say, or of a button that is just being pressed: while a form is on
     * its way, or a finger is down, nothing is refreshed; and an answer to a page that is no longer shown comes too late.
     */
    var turn = 0, asked = 0, told = 0, onTheirWay = 0, address = '', pressed = false;
    /*
     * What takes seconds says how far it has come: the answer is lines of JSON, the last of which says where to go. Where that cannot be
     * had the form goes its plain way.
     */
    document.addEventListener('submit', async function (event) {
        var form = event.target;
        if (!form.matches('form[data-told]') || form.dataset.plain) { return; }
        event.preventDefault();
        event.stopPropagation();
        var button = event.submitter;
        var body = new FormData(form, button);
        var line = document.createElement('p');
        line.className = 'told';
        line.setAttribute('role', 'status');
        line.append(document.createElement('progress'), document.createElement('span'));
        form.append(line);
        form.querySelectorAll('button').forEach(function (one) { one.disabled = true; });
        onTheirWay++;
        var to = null, begun = false;
        try {
            var answer = await fetch(form.action, { method: 'POST', body: body, headers: { Accept: 'application/x-ndjson' }, credentials: 'same-origin' });
            begun = (answer.headers.get('Content-Type') || '').startsWith('application/x-ndjson');
            var reader = begun ? answer.body.pipeThrough(new TextDecoderStream()).getReader() : null;
            for (var rest = '', part = {}; begun && !part.done;) {
                part = await reader.read();
                var lines = (rest + (part.value || '')).split('\n');
                rest = lines.pop();
                lines.map(JSON.parse).forEach(function (news) {
                    to = news.to || to;
                    if (!news.said) { return; }
                    line.lastChild.textContent = news.said;
                    if (news.of > 0) { line.firstChild.max = news.of; line.firstChild.value = news.done; } else { line.firstChild.removeAttribute('value'); }
                });
            }
        } catch { begun = true; }
        onTheirWay--;
        form.querySelectorAll('button').forEach(function (one) { one.disabled = false; });
        if (to) { location.assign(to); return; }
        if (begun) {
            line.firstChild.remove();
            line.className = 'wrong';
            line.textContent = form.dataset.told;

            return;
        }
        /* Refused at the door, nothing was done: sent as it would have been, so that what there is to say is said. */
        line.remove();
        form.dataset.plain = '1';
        form.requestSubmit(button);
        delete form.dataset.plain;
    }, true);
    function isPulse(event) { var source = event.detail && event.detail.ctx && event.detail.ctx.sourceElement; return !!source && source.id === 'pulse'; }
    ['pointerdown', 'pointerup', 'pointercancel'].forEach(function (kind) {
        document.addEventListener(kind, function () { pressed = kind === 'pointerdown'; }, true);
    });
    /* A cell that was written needs its row again, not the page: the parts that are shown are named as the refresh names them. */
    document.addEventListener('htmx:before:request', function (event) {
        var source = event.detail.ctx.sourceElement;
        var pulse = document.getElementById('pulse');
        if (!source || !source.matches('form.cell') || !pulse) { return; }
        event.detail.ctx.request.headers['X-Parts'] = JSON.parse(pulse.getAttribute('hx-headers'))['X-Parts'];
    });
    document.addEventListener('htmx:before:request', function (event) {
        if (!isPulse(event)) { onTheirWay++; event.detail.ctx.counted = true; return; }
        if (dirty || pressed || onTheirWay > 0 || typing(document.activeElement)) { event.preventDefault(); return; }
        asked = ++turn;
        address = event.detail.ctx.sourceElement.getAttribute('hx-get');
    });
    document.addEventListener('htmx:finally:request', function (event) {
        if (event.detail.ctx.counted) { event.detail.ctx.counted = false; onTheirWay--; told = ++turn; }
    });
    document.addEventListener('htmx:before:swap', function (event) {
        if (!isPulse(event)) { return; }
        var pulse = document.getElementById('pulse');
        if (dirty || pressed || onTheirWay > 0 || told > asked || !pulse || address !== pulse.getAttribute('hx-get')) { event.preventDefault(); }
    });
})();

/* Cards of the shelf whose figures are made after it is there, one after the other. */
document.addEventListener('DOMContentLoaded', async () => {
    for (const card of document.querySelectorAll('[data-card]')) {
        const answer = await fetch(card.dataset.card, { credentials: 'same-origin' }).catch(() => null);
        if (answer && answer.ok && !answer.redirected) { card.outerHTML = await answer.text(); }
    }
});

/* Through the matrix by arrow keys: from cell to cell, over what is empty. */
document.addEventListener('keydown', (event) => {
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
    const cell = step && event.target.closest?.('table[data-matrix] td');
    if (!cell || event.altKey || event.ctrlKey || event.metaKey) { return; }
    const rows = [...cell.closest('tbody').rows];
    let [row, column] = [rows.indexOf(cell.parentElement) + step[0], cell.cellIndex + step[1]];
    for (; rows[row]?.cells[column]; row += step[0], column += step[1]) {
        const next = rows[row].cells[column].querySelector('a');
        if (next) { event.preventDefault(); next.focus(); return; }
    }
});

/* Pins of the address tape: drawn along, or pushed with Alt and an arrow, and put where they lie or where one types. */
(function () {
    var held = null;
    var shown = function (number) {
        return [24, 16, 8, 0].map(function (bits) { return Math.floor(number / Math.pow(2, bits)) % 256; }).join('.');
    };
    var number = function (address) {
        return address.split('.').reduce(function (sum, part) { return sum * 256 + Number(part); }, 0);
    };
    var ask = function (pin, at) {
        var tape = pin.closest('svg');
        var from = Number(tape.dataset.from);
        var to = Math.max(from, Math.min(from + Number(tape.dataset.count) - 1, at));
        var form = tape.parentNode.querySelector('form.moved');
        form.elements.record.value = 'settings/' + pin.dataset.nic + '#address';
        form.elements.before.value = pin.dataset.address;
        form.elements.value.value = shown(to);
        form.querySelector('[data-tag]').textContent = pin.dataset.tag;
        form.querySelector('[data-was]').textContent = pin.dataset.address;
        form.hidden = false;
        pin.setAttribute('transform', 'translate(' + (to - number(pin.dataset.address)) * 1000 / Number(tape.dataset.count) + ' 0)');
        pin.dataset.at = to;

        return form;
    };
    document.addEventListener('pointerdown', function (event) {
        var pin = event.target.closest ? event.target.closest('a[data-nic]') : null;
        if (!pin || event.button !== 0) { return; }
        var box = pin.closest('svg').getBoundingClientRect();
        held = { pin: pin, x: event.clientX, scale: Number(pin.closest('svg').dataset.count) / (box.width * 1000 / 1012), moved: false };
    });
    document.addEventListener('pointermove', function (event) {
        if (!held || (!held.moved && Math.abs(event.clientX - held.x) < 5)) { return; }
        held.moved = true;
        ask(held.pin, number(held.pin.dataset.address) + Math.round((event.clientX - held.x) * held.scale));
    });
    document.addEventListener('pointerup', function () {
        if (held && held.moved) {
            held.pin.closest('svg').parentNode.querySelector('form.moved').elements.value.focus();
            // What follows is a click on the link that was drawn along.
            document.addEventListener('click', function (event) { event.preventDefault(); event.stopPropagation(); }, { capture: true, once: true });
        }
        held = null;
    });
    document.addEventListener('dragstart', function (event) {
        if (event.target.closest && event.target.closest('a[data-nic]')) { event.preventDefault(); }
    });
    document.addEventListener('keydown', function (event) {
        var pin = event.target.closest ? event.target.closest('a[data-nic]') : null;
        if (!pin || !event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) { return; }
        event.preventDefault();
        ask(pin, Number(pin.dataset.at || number(pin.dataset.address)) + (event.key === 'ArrowLeft' ? -1 : 1));
    });
    document.addEventListener('reset', function (event) {
        if (!event.target.matches('form.moved')) { return; }
        event.target.hidden = true;
        event.target.parentNode.querySelectorAll('a[data-nic]').forEach(function (pin) {
            pin.removeAttribute('transform');
            delete pin.dataset.at;
        });
    });
}());
