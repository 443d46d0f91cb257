// Power cuts: nothing stored is lost or half written, and the next start goes on.
import test from 'node:test';
import assert from 'node:assert/strict';
import { readdirSync, readFileSync } from 'node:fs';
import { answering, base, console_, killHard, login, open, pidOf, startAgain, until } from './support.mjs';

/** What the journal says was written last must be what is stored; entries count up without a hole. */
function consistent(slug) {
    const job = JSON.parse(console_('vorhut:export', slug));
    const journal = job.journal ?? [];
    journal.forEach((entry, i) => assert.equal(entry.number, i + 1, 'no hole in the journal'));
    const last = new Map();
    for (const entry of journal) { for (const edit of entry.edits) { if (edit.do === 'put') { last.set(`${edit.section}/${edit.key}/${edit.field}`, edit.after); } } }
    for (const [place, after] of last) {
        const [section, ...rest] = place.split('/');
        const field = rest.pop();
        const record = section === 'job' ? job.job : (job[section] ?? []).find((one) => one.key === rest.join('/'));
        if (record && !Array.isArray(after)) { assert.equal(record[field] ?? null, after, place); }
    }
    return journal.length;
}

test('kill -9 of the web server in the middle of writing', { timeout: 360000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/j/museum/devices`);
        const token = await page.inputValue('form.cell input[name=_token]');
        const before = consistent('museum');
        const write = (n) => page.request.post(`${base}/j/museum/edit`, { form: { _token: token, _back: '/j/museum/brief', record: 'devices/ln-1', field: 'serial', before: '', value: `SN-${n}` }, maxRedirects: 0, timeout: 4000 }).catch(() => null);
        // The expected value is wrong from the second write on: some are conflicts, some are cut; none may be halves.
        const writes = [];
        for (let n = 0; n < 40; n++) {
            writes.push(write(n));
            if (n === 25) { setTimeout(() => killHard('web'), 15); }
            await new Promise((later) => setTimeout(later, 12));
        }
        await Promise.all(writes);
        startAgain('web');
        await answering();
        assert.ok(consistent('museum') >= before);
        await page.goto(`${base}/j/museum/devices?sel=devices/ln-1`);
        assert.match(await page.textContent('h1'), /Devices/);
    } finally {
        await browser.close();
    }
});

test('kill -9 of lab and worker in the middle of a proof', { timeout: 600000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'technician');
        const url = `${base}/j/nordmole/proof`;
        await page.goto(url);
        const observations = () => (JSON.parse(console_('vorhut:export', 'nordmole')).observations ?? []).length;
        const before = observations();
        await page.click('button:has-text("Run all tests")');
        await until(page, url, async () => observations() > before);
        killHard('worker');
        killHard('lab');
        assert.ok(observations() > before, 'what was found before the cut is kept');
        startAgain('lab');
        await page.waitForTimeout(6000);
        startAgain('worker');
        await until(page, url, async () => await page.locator('table.book tr.not-run:not(:has-text("not connected")):not(:has-text("cannot be tested from here")):not(:has(form.answer))').count() === 0 && await page.locator('.said:has-text("Running")').count() === 0, 400);
        consistent('nordmole');
        // The lab kept what was put into its stand-ins, the fault too.
        assert.ok(await page.locator('tr.failed:has-text("VC-02 answers")').count() === 1);
        assert.ok(await page.locator('tr.passed:has-text("SW-01 answers")').count() === 1);
    } finally {
        await browser.close();
    }
});

/** What is kept running under a part's keeper, not the keeper itself: that is to start it again. */
function killKept(part) {
    const keeper = pidOf(part);
    for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
        try {
            if (readFileSync(`/proc/${pid}/stat`, 'utf8').replace(/^.*\) /, '').split(' ')[1] === String(keeper)) { process.kill(Number(pid), 'SIGKILL'); }
        } catch { /* it is gone already */ }
    }
}

// KILLS=200 bin/test browser kill: as many as one has patience for.
test('kills at random among all processes, in the middle of writing', { timeout: 3600000 }, async () => {
    const { browser, page } = await open();
    try {
        // Whatever an earlier story left behind without its keeper has one again.
        for (const part of ['web', 'lab', 'worker']) { killHard(part); startAgain(part, true); }
        await answering();
        await login(page, 'lead');
        const url = `${base}/j/museum/devices?sel=devices/ln-1`;
        const look = async () => {
            for (;;) {
                const answer = await page.request.get(url, { timeout: 5000 }).catch(() => null);
                const text = answer?.status() === 200 ? await answer.text() : '';
                const found = text.match(/name="record" value="devices\/ln-1">\s*<input type="hidden" name="field" value="serial">\s*<input type="hidden" name="before" value="([^"]*)"/);
                if (found) { return { before: found[1], token: text.match(/name="_token" value="([^"]+)"/)[1] }; }
                await new Promise((later) => setTimeout(later, 150));
            }
        };
        const kills = Number(process.env.KILLS ?? 6);
        const parts = ['web', 'database', 'lab', 'worker'];
        const acknowledged = [];
        let { before, token } = await look();
        let killed = 0;
        let n = 0;
        let next = Date.now() + 400;
        // A slow machine writes less between two kills: it goes on until there is something that could have been lost.
        const end = Date.now() + kills * 20000;
        while (killed < kills || (acknowledged.length <= kills && Date.now() < end)) {
            if (killed < kills && Date.now() > next) {
                // One at any moment of a write, which goes on meanwhile.
                const part = parts[Math.floor(Math.random() * parts.length)];
                setTimeout(() => killKept(part), Math.random() * 60);
                killed++;
                next = Date.now() + 300 + Math.random() * 700;
            }
            const value = `K-${Date.now()}-${n++}`;
            const answer = await page.request.post(`${base}/j/museum/edit`, { form: { _token: token, _back: '/j/museum/brief', record: 'devices/ln-1', field: 'serial', before, value }, maxRedirects: 0, timeout: 8000 }).catch(() => null);
            if (answer?.status() === 303 && !/told=/.test(answer.headers().location ?? '')) {
                acknowledged.push(value);
                before = value;
            } else {
                ({ before, token } = await look());
            }
        }
        await new Promise((later) => setTimeout(later, 4000));
        ({ before } = await look());
        consistent('museum');
        const written = JSON.parse(console_('vorhut:export', 'museum')).journal.flatMap((entry) => entry.edits).filter((edit) => edit.key === 'ln-1' && edit.field === 'serial').map((edit) => edit.after);
        const lost = acknowledged.filter((value) => !written.includes(value));
        assert.deepEqual(lost, [], 'nothing that was acknowledged is lost');
        assert.equal(written.at(-1), before, 'and what is stored is what was written last');
        assert.ok(acknowledged.length > kills, `${acknowledged.length} acknowledged`);
        console.log(`${kills} kills, ${acknowledged.length} writes acknowledged, ${written.length} written, none lost`);
    } finally {
        await browser.close();
    }
});

test('without its database it says so on a page of its own, logs nobody out, and is back by itself', { timeout: 120000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'lead');
        const url = `${base}/j/museum/devices`;
        await page.goto(url);
        killKept('database');
        let away = 0;
        for (const end = Date.now() + 60000; Date.now() < end;) {
            const answer = await page.request.get(url, { maxRedirects: 0, timeout: 5000 });
            if (answer.status() === 200) {
                if (away > 0) { break; }
                continue;
            }
            assert.equal(answer.status(), 503);
            assert.equal(answer.headers()['retry-after'], '5');
            assert.match(await answer.text(), /Not available at the moment\..*The database does not answer.*Jobs/s);
            away++;
        }
        assert.ok(away > 0, 'somebody asked while it was away');
        await page.goto(url);
        assert.match(await page.textContent('h1'), /Devices/);
    } finally {
        await browser.close();
    }
});
