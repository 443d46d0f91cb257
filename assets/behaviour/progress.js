import { begin } from './refresh.js';

/*
 * What takes seconds says how far it has come: the answer is lines of JSON, the last of which says where to go. Where that cannot be had
 * the form goes its plain way.
 */
const lines = async function* (body) {
    const reader = body.pipeThrough(new TextDecoderStream()).getReader();
    let rest = '';
    for (;;) {
        const { value, done } = await reader.read();
        const parts = (rest + (value ?? '')).split('\n');
        rest = parts.pop();
        yield* parts.map((part) => JSON.parse(part));
        if (done) { return; }
    }
};

const bar = () => {
    const line = document.createElement('p');
    line.className = 'told';
    line.setAttribute('role', 'status');
    line.append(document.createElement('progress'), document.createElement('span'));
    return line;
};

const show = (line, news) => {
    if (!news.said) { return; }
    const [meter, text] = line.children;
    text.textContent = news.said;
    if (news.of > 0) { meter.max = news.of; meter.value = news.done; } else { meter.removeAttribute('value'); }
};

const send = async (form, button, line) => {
    const outcome = { to: null, begun: false };
    try {
        const answer = await fetch(form.action, {
            method: 'POST',
            body: new FormData(form, button),
            headers: { Accept: 'application/x-ndjson' },
            credentials: 'same-origin',
        });
        outcome.begun = (answer.headers.get('Content-Type') ?? '').startsWith('application/x-ndjson');
        if (!outcome.begun) { return outcome; }
        for await (const news of lines(answer.body)) {
            outcome.to = news.to ?? outcome.to;
            show(line, news);
        }
    } catch { outcome.begun = true; }
    return outcome;
};

document.addEventListener('submit', async (event) => {
    const form = event.target;
    if (!form.matches('form[data-told]') || form.dataset.plain) { return; }
    event.preventDefault();
    event.stopPropagation();
    const button = event.submitter;
    const buttons = [...form.querySelectorAll('button')];
    const line = bar();
    form.append(line);
    const sending = send(form, button, line);
    buttons.forEach((one) => { one.disabled = true; });
    const end = begin();
    const { to, begun } = await sending;
    end();
    buttons.forEach((one) => { one.disabled = false; });
    if (to) { location.assign(to); return; }
    if (begun) {
        line.firstChild.remove();
        line.className = 'wrong';
        line.textContent = form.dataset.told;
        return;
    }
    /* Refused before anything was done: sent the plain way, so that the page says why. */
    line.remove();
    form.dataset.plain = '1';
    form.requestSubmit(button);
    delete form.dataset.plain;
}, true);
