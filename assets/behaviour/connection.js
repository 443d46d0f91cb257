/*
 * Keeps the page when a request fails, and says why: no connection, an expired session, or an error of the server. Forms that could not be
 * sent wait here and are sent when the server answers again. The server carries out a form once, so sending it again is safe.
 */
const LOOK_AGAIN = 2000;
const bar = document.getElementById('connection');
const waiting = new Map();
let reason = null;
let timer = null;

const show = (why) => {
    clearTimeout(timer);
    timer = why === null || why === 'failed' ? null : setTimeout(look, LOOK_AGAIN);
    if (why === reason) { return; }
    reason = why;
    bar.hidden = why === null;
    bar.firstElementChild.textContent = why === null ? '' : bar.dataset[why];
    bar.querySelector('a').hidden = why !== 'expired';
};

const isLogin = (response) => response.redirected && new URL(response.url).pathname === '/login';

/* A new session has new tokens. They are taken from this page as the server shows it now; what was typed here stays. */
const renewTokens = async () => {
    const page = new DOMParser().parseFromString(await (await fetch(location.href)).text(), 'text/html');
    const token = page.querySelector('input[name="_token"]')?.value;
    if (!token) { return; }
    document.querySelectorAll('input[name="_token"]').forEach((input) => { input.value = token; });
};

const resume = async (wasExpired) => {
    if (wasExpired) { await renewTokens(); }
    show(null);
    const forms = [...waiting];
    waiting.clear();
    for (const [form, button] of forms) {
        if (form.isConnected) { form.requestSubmit(button?.isConnected ? button : null); }
    }
};

async function look() {
    try {
        const pulse = document.getElementById('pulse');
        const headers = pulse ? JSON.parse(pulse.getAttribute('hx-headers')) : {};
        const response = await fetch(pulse?.getAttribute('hx-get') ?? location.href, { headers });
        if (isLogin(response)) { show('expired'); return; }
        if (response.ok) { await resume(reason === 'expired'); return; }
    } catch { /* still away */ }
    show(reason === 'expired' ? 'expired' : 'offline');
}

const keep = (ctx) => {
    const form = ctx.sourceElement?.closest?.('form');
    if (form && ctx.request.method === 'POST') { waiting.set(form, ctx.sourceEvent?.submitter ?? null); }
};

document.addEventListener('htmx:error', (event) => {
    const { ctx } = event.detail;
    if (!ctx?.request || ctx.response) { return; }
    keep(ctx);
    show('offline');
});

document.addEventListener('htmx:after:request', (event) => {
    const { ctx } = event.detail;
    const { raw, status } = ctx.response;
    if (isLogin(raw)) {
        event.preventDefault();
        keep(ctx);
        show('expired');
    } else if (status >= 400 && !ctx.text.includes('id="page"')) {
        event.preventDefault();
        if (ctx.request.method === 'GET' && ctx.sourceElement?.id !== 'pulse') { location.assign(ctx.request.action); return; }
        show('failed');
    } else if (reason !== null) {
        resume(reason === 'expired');
    }
});
