import { ring } from './ring.js';

/*
 * A wait that runs on the server: what is left when the page is made is counted down by the clock, not by ticks, so that a sleeping tablet
 * does not stretch it. It rings once when it is over.
 */
const countdown = () => ({
    shown: '',
    init() {
        const root = this.$el;
        let given, end, rings;
        const begin = () => {
            given = root.dataset.left;
            end = Date.now() + Number(given) * 1000;
            rings = Number(given) > 0;
        };
        const step = () => {
            if (root.dataset.left !== given) { begin(); }
            const left = Math.max(0, Math.round((end - Date.now()) / 1000));
            this.shown = left > 0 ? `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}` : root.dataset.up;
            root.classList.toggle('over', left === 0);
            if (left === 0 && rings) { rings = false; ring(); }
            if (!document.contains(root)) { clearInterval(tick); }
        };
        const tick = setInterval(step, 250);
        step();
    },
});

/* A window of seconds, rehearsed: the clock runs as it will at the device, and begins again at every touch. */
const rehearsal = () => ({
    shown: '',
    init() { this.shown = `${this.$el.dataset.seconds} s`; },
    start() {
        const root = this.$root;
        const end = Date.now() + Number(root.dataset.seconds) * 1000;
        clearInterval(this.tick);
        this.tick = setInterval(() => {
            const left = (end - Date.now()) / 1000;
            this.shown = left > 0 ? `${left.toFixed(1)} s` : root.dataset.up;
            if (left <= 0 || !document.contains(root)) { clearInterval(this.tick); }
        }, 100);
    },
});

document.addEventListener('alpine:init', () => {
    Alpine.data('countdown', countdown);
    Alpine.data('rehearsal', rehearsal);
});
