/*
 * Marks that are made without a connection: kept in this browser with the time at which they were made, sent in order when there is one
 * again, each until the server has answered for it. What contradicts a mark of somebody else is shown until somebody decides.
 */
const page = document.getElementById('along');
const words = page.dataset;
/* Of each login its own: on a shared tablet nobody sees, or sends, the marks of another. */
const KEY = `along ${words.login} ${words.job}`;
let busy = false;

const kept = () => {
    try { return JSON.parse(localStorage.getItem(KEY)) ?? []; } catch { return []; }
};

const keep = (marks) => {
    localStorage.setItem(KEY, JSON.stringify(marks));
    show();
};

const isAt = (li) => (mark) => mark.device === li.dataset.device && mark.step === li.dataset.step;

const showStep = (li, mark) => {
    li.querySelector('.mine').textContent = mark ? `${words[mark.state]} · ${mark.why || words.unsent}` : '';
    li.classList.toggle('waits', !!mark);
    li.classList.toggle('contradicts', !!mark?.why);
    for (const button of li.querySelectorAll('.decide button')) {
        /* Against another person's mark one decides; a mark that is refused is made again with its reason, or dropped. */
        button.hidden = !mark?.why || (button.dataset.decide === 'drop') === !!mark.contradicts;
    }
};

const show = () => {
    const marks = kept();
    for (const li of page.querySelectorAll('li[data-step]')) { showStep(li, marks.filter(isAt(li)).pop()); }
    document.getElementById('unsent').textContent = marks.length ? words.count.replace('{n}', marks.length) : words.none;
};

const post = async (marks) => {
    const form = new URLSearchParams();
    form.set('_token', words.token);
    form.set('marks', JSON.stringify(marks));
    const answer = await fetch(words.send, { method: 'POST', body: form, credentials: 'same-origin', redirect: 'manual' });
    if (!answer.ok) { throw new Error(String(answer.status)); }
    return (await answer.json()).answers;
};

/* What was stored is shown as stored; what was refused stays, with the reason. */
const settle = (marks, answers) => {
    const byId = new Map(answers.map((one) => [one.id, one]));
    keep(kept().filter((mark) => !byId.has(mark.id) || byId.get(mark.id).why).map((mark) => {
        const answer = byId.get(mark.id);
        return answer ? { ...mark, why: answer.why, contradicts: answer.contradicts, force: false } : mark;
    }));
    for (const mark of marks.filter((one) => byId.has(one.id) && !byId.get(one.id).why)) {
        const li = page.querySelector(`li[data-device="${mark.device}"][data-step="${mark.step}"]`);
        if (!li) { continue; }
        li.className = `is-${mark.state}`;
        li.querySelector('.there').textContent = words[mark.state];
    }
};

const send = async () => {
    const marks = kept().filter((mark) => !mark.why || mark.force);
    if (busy || !marks.length || !navigator.onLine) { show(); return; }
    busy = true;
    try {
        settle(marks, await post(marks));
    } catch { /* they stay, and are sent at the next try */ }
    busy = false;
    show();
};

const decide = (li, isMine) => {
    const isHere = isAt(li);
    keep(kept().filter((mark) => isMine || !isHere(mark)).map((mark) => (isHere(mark) ? { ...mark, force: true } : mark)));
};

const mark = (li, state) => {
    const field = li.querySelector('input');
    const note = field.value.trim();
    if (state !== 'done' && !note) { field.focus(); return; }
    const isHere = isAt(li);
    keep([...kept().filter((one) => !isHere(one)), {
        id: Date.now().toString(36) + Math.random().toString(36).slice(2, 8),
        device: li.dataset.device,
        step: li.dataset.step,
        state,
        note,
        at: new Date().toISOString(),
    }]);
};

page.addEventListener('click', (event) => {
    const button = event.target.closest('button');
    const li = button?.closest('li[data-step]');
    if (!li) { return; }
    if (button.dataset.decide) {
        decide(li, button.dataset.decide === 'mine');
    } else if (button.dataset.state) {
        mark(li, button.dataset.state);
    }
    send();
});

/* The page itself, and every file that it loaded. */
const needs = () => performance.getEntriesByType('resource')
    .map((one) => one.name)
    .filter((address) => new URL(address).pathname.startsWith('/build/'));

const offerToTake = async () => {
    const button = document.getElementById('take');
    if (!('serviceWorker' in navigator)) { button.textContent = words.cannot; return; }
    navigator.serviceWorker.addEventListener('message', (event) => { button.textContent = event.data.taken ? words.taken : words.cannot; });
    try {
        await navigator.serviceWorker.register('/along.js');
        const { active } = await navigator.serviceWorker.ready;
        button.disabled = false;
        button.addEventListener('click', () => { active.postMessage({ take: [location.href, ...needs()] }); });
    } catch { button.textContent = words.cannot; }
};

window.addEventListener('online', send);
setInterval(send, 5000);
offerToTake();
show();
send();
