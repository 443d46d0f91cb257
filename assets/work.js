/* Behaviour that all stages share. Pages work without it; with it they are quicker to use. */
document.addEventListener('alpine:init', function () {
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
     * A wait with a timer; it goes on by the clock, not by ticks, so a sleeping tablet does not stretch it. When it ends is kept beside the
     * page: a reload, or a look at another device, does not begin it anew.
     */
    Alpine.data('timer', function () {
        return {
            end: 0,
            shown: '',
            init: function () {
                this.shown = this.format(Number(this.$el.dataset.seconds));
                var end = 0;
                try { end = Number(localStorage.getItem('wait ' + this.$el.dataset.wait)); } catch (e) { /* it runs until the page is left */ }
                // One that ended long ago belongs to an earlier try.
                if (end > Date.now() - 3600000) { this.run(end); }
            },
            start: function () {
                var end = Date.now() + Number(this.$root.dataset.seconds) * 1000;
                try { localStorage.setItem('wait ' + this.$root.dataset.wait, String(end)); } catch (e) { /* it runs until the page is left */ }
                this.run(end);
            },
            run: function (end) {
                var self = this;
                var root = this.$root;
                if (this.tick) { clearInterval(this.tick); }
                this.end = end;
                var step = function () {
                    var left = Math.max(0, Math.round((self.end - Date.now()) / 1000));
                    self.shown = left > 0 ? self.format(left) : root.dataset.up;
                    if (left === 0 || !document.contains(root)) { clearInterval(self.tick); }
                };
                this.tick = setInterval(step, 250);
                step();
            },
            format: function (s) { return Math.floor(s / 60) + ':' + String(s % 60).padStart(2, '0'); }
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
    function isPulse(event) { var source = event.detail && event.detail.ctx && event.detail.ctx.sourceElement; return !!source && source.id === 'pulse'; }
    ['pointerdown', 'pointerup', 'pointercancel'].forEach(function (kind) {
        document.addEventListener(kind, function () { pressed = kind === 'pointerdown'; }, true);
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
