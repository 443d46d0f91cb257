import { isTyping } from './typing.js';

/*
 * The page asks for news of itself. While somebody types, presses, or waits for the answer to a form, nothing is replaced under the hands;
 * and an answer for a page that is no longer shown comes too late.
 */
let dirty = false;
let pressed = false;
let running = 0;
let turn = 0;
let asked = 0;
let answered = 0;
let address = '';

/** A request that refreshes have to wait for; called back when it is over. */
export const begin = () => {
    running++;
    return () => { running--; answered = ++turn; };
};

const isBusy = () => dirty || pressed || running > 0;
const isRefresh = (event) => event.detail?.ctx?.sourceElement?.id === 'pulse';

document.addEventListener('input', (event) => { dirty = !event.target.closest('form.cell, .search'); });
document.addEventListener('submit', () => { dirty = false; });
for (const kind of ['pointerdown', 'pointerup', 'pointercancel']) {
    document.addEventListener(kind, () => { pressed = kind === 'pointerdown'; }, true);
}

/* A field edited in place is sent when one leaves it; a question form when an answer is picked. */
document.addEventListener('change', (event) => { event.target.closest('form.cell, form.asks')?.requestSubmit(); });

/* A cell that was written needs its row again, not the page: the parts that are shown are named as the refresh names them. */
document.addEventListener('htmx:before:request', (event) => {
    const pulse = document.getElementById('pulse');
    if (!pulse || !event.detail.ctx.sourceElement?.matches('form.cell')) { return; }
    event.detail.ctx.request.headers['X-Parts'] = JSON.parse(pulse.getAttribute('hx-headers'))['X-Parts'];
});

document.addEventListener('htmx:before:request', (event) => {
    const { ctx } = event.detail;
    if (!isRefresh(event)) { ctx.end = begin(); return; }
    if (isBusy() || isTyping(document.activeElement)) { event.preventDefault(); return; }
    asked = ++turn;
    address = ctx.sourceElement.getAttribute('hx-get');
});

document.addEventListener('htmx:finally:request', (event) => {
    const { ctx } = event.detail;
    ctx.end?.();
    delete ctx.end;
});

document.addEventListener('htmx:before:swap', (event) => {
    if (!isRefresh(event)) { return; }
    const now = document.getElementById('pulse')?.getAttribute('hx-get');
    if (isBusy() || answered > asked || address !== now) { event.preventDefault(); }
});
