/*
 * Leaving a shared tablet: the sheets that were taken along are deleted. Marks that were not sent yet stay for the login that made them,
 * and whoever leaves is told of them first.
 */
(function () {
    const STORE = 'along-1';

    /* Marks that were not sent, of one login; of all of them where none is named. */
    function unsent(login = null) {
        const left = [];
        try {
            for (let i = 0; i < localStorage.length; i++) {
                const key = localStorage.key(i);
                const [, owner, job] = key.match(/^along (\S+) (\S+)$/) || [];
                if (!owner || (login !== null && owner !== login)) { continue; }
                const marks = JSON.parse(localStorage.getItem(key)) || [];
                if (marks.length) { left.push({ job: job, count: marks.length }); }
            }
        } catch (e) { /* a private window keeps nothing */ }
        return left;
    }

    function ask(form, left) {
        const said = document.createElement('p');
        const first = document.createElement('a');
        const keep = document.createElement('button');
        said.setAttribute('role', 'alert');
        said.className = 'leaving';
        said.textContent = `${form.dataset.unsent.replace('{n}', left.reduce((sum, one) => sum + one.count, 0))} `;
        first.href = `/j/${encodeURIComponent(left[0].job)}/bench/along`;
        first.textContent = form.dataset.first;
        keep.textContent = form.dataset.keep;
        keep.className = 'plain';
        keep.addEventListener('click', () => { form.dataset.asked = 'yes'; });
        said.append(first, ' ', keep);
        form.append(said);
        first.focus();
    }

    const clear = () => ('caches' in window ? caches.delete(STORE).catch(() => false) : Promise.resolve());

    /* Somebody else logged in without the last one having left: what that one took along is not theirs. */
    const leaving = document.querySelector('form[action="/logout"]');
    try {
        if (leaving && localStorage.getItem('login') !== leaving.dataset.login) {
            if (localStorage.getItem('login') !== null) { clear(); }
            localStorage.setItem('login', leaving.dataset.login);
        }
    } catch (e) { /* a private window keeps nothing */ }

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
})();
