/*
 * Keeps the page when a request fails, and says why: no connection, an expired session, or the server's reason. Forms that did not reach the
 * server wait here and are sent when it answers again. The server carries out a form once, so sending it again is safe.
 */
const LOOK_AGAIN = 2000;
/** Answers of a proxy, or of a server without its database: the form was not carried out. */
const AWAY = [502, 503, 504];
const bar = document.getElementById('connection');
const waiting = new Map();
let reason = null;
let timer = null;

/** Reasons that end by themselves, so that the server is asked again. */
const isPassing = (why) => why === 'offline' || why === 'expired';

const show = (why, text = null) => {
    clearTimeout(timer);
    timer = isPassing(why) ? setTimeout(look, LOOK_AGAIN) : null;
    if (why === reason && text === null) { return; }
    reason = why;
    bar.hidden = why === null;
    bar.firstElementChild.textContent = why === null ? '' : text ?? bar.dataset[why];
    bar.querySelector('a').hidden = why !== 'expired';
};

/** The server tells scripts that nobody is logged in; it starts no session for them, so a login in another tab is safe. */
const isLogin = (response) => response.status === 401;
const SCRIPT = { 'HX-Request': 'true' };
const pageOf = (text) => new DOMParser().parseFromString(text, 'text/html');
const loginOf = (page) => page.querySelector('[data-login]')?.dataset.login;

/*
 * A new session has new tokens. They are taken from this page as the server shows it now; what was typed here stays. Entries of one user
 * are never sent as those of another. Returns why nothing may be sent, or null.
 */
const renewTokens = async () => {
    const response = await fetch(location.href, { headers: SCRIPT });
    if (isLogin(response)) { return 'expired'; }
    const page = pageOf(await response.text());
    if (loginOf(page) !== loginOf(document)) { return 'other'; }
    for (const name of ['_token', '_csrf_token']) {
        const token = page.querySelector(`input[name="${name}"]`)?.value;
        document.querySelectorAll(`input[name="${name}"]`).forEach((input) => { input.value = token ?? input.value; });
    }
    return null;
};

const resume = async () => {
    const why = reason === 'expired' ? await renewTokens() : null;
    show(why);
    if (why === 'expired') { return; }
    const forms = why === null ? [...waiting] : [];
    waiting.clear();
    for (const [form, button] of forms) {
        if (form.isConnected) { form.requestSubmit(button?.isConnected ? button : null); }
    }
};

async function look() {
    try {
        const pulse = document.getElementById('pulse');
        const headers = pulse ? JSON.parse(pulse.getAttribute('hx-headers')) : {};
        const response = await fetch(pulse?.getAttribute('hx-get') ?? location.href, { headers: { ...headers, ...SCRIPT } });
        if (isLogin(response)) { show('expired'); return; }
        if (response.ok) { await resume(); return; }
    } catch { /* still away */ }
    show(reason);
}

/** A form that did not reach the server waits, with the button that sent it. */
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
    const isPoll = ctx.sourceElement?.id === 'pulse';
    const isPost = ctx.request.method === 'POST';
    if (isLogin(raw)) {
        event.preventDefault();
        keep(ctx);
        show('expired');
    } else if (AWAY.includes(status) && (isPost || isPoll)) {
        event.preventDefault();
        keep(ctx);
        show('offline');
    } else if (status >= 400 && isPoll) {
        event.preventDefault();
    } else if (status >= 400 && isPost) {
        event.preventDefault();
        show('failed', pageOf(ctx.text).querySelector('#page main')?.textContent.replace(/\s+/g, ' ').trim() || null);
    } else if (isPassing(reason)) {
        resume();
    } else if (reason === 'failed' && !isPoll) {
        show(null);
    }
});
