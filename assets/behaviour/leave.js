/*
 * Leaving a shared tablet: the sheets that were taken along are deleted. Marks that were not sent yet stay for the login that made them,
 * and whoever leaves is told of them first.
 */
const STORE = 'along-1';

/** Marks that were not sent, of one login; of all logins where none is named. */
const unsent = (login = null) => {
    const left = [];
    try {
        for (const key of Object.keys(localStorage)) {
            const [, owner, job] = key.match(/^along (\S+) (\S+)$/) ?? [];
            if (!owner || (login !== null && owner !== login)) { continue; }
            const marks = JSON.parse(localStorage.getItem(key)) ?? [];
            if (marks.length) { left.push({ job, count: marks.length }); }
        }
    } catch { /* a private window keeps nothing */ }
    return left;
};

const ask = (form, left) => {
    const question = document.createElement('p');
    const first = document.createElement('a');
    const keep = document.createElement('button');
    const count = left.reduce((sum, one) => sum + one.count, 0);
    question.setAttribute('role', 'alert');
    question.className = 'leaving';
    question.textContent = `${form.dataset.unsent.replace('{n}', count)} `;
    first.href = `/j/${encodeURIComponent(left[0].job)}/bench/along`;
    first.textContent = form.dataset.first;
    keep.textContent = form.dataset.keep;
    keep.className = 'plain';
    keep.addEventListener('click', () => { form.dataset.asked = 'yes'; });
    question.append(first, ' ', keep);
    form.append(question);
    first.focus();
};

const clear = () => ('caches' in window ? caches.delete(STORE).catch(() => false) : Promise.resolve());

/* Somebody else logged in and the last one did not log out: what that one took along is not theirs. */
const leaving = document.querySelector('form[action="/logout"]');
try {
    const before = localStorage.getItem('login');
    if (leaving && before !== leaving.dataset.login) {
        if (before !== null) { clear(); }
        localStorage.setItem('login', leaving.dataset.login);
    }
} catch { /* a private window keeps nothing */ }

document.addEventListener('submit', (event) => {
    const form = event.target;
    if (form.getAttribute('action') !== '/logout') { return; }
    const left = unsent(form.dataset.login);
    event.preventDefault();
    if (left.length && !form.dataset.asked) {
        if (!form.querySelector('.leaving')) { ask(form, left); }
        return;
    }
    /* Those of somebody who left before stay too. */
    if (unsent().length) {
        const kept = document.createElement('input');
        kept.type = 'hidden';
        kept.name = 'keep';
        kept.value = 'yes';
        form.append(kept);
    }
    clear().then(() => form.submit());
});
