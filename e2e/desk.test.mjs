// Several people on one job: who was quicker, what is taken back, what is refused and why; nothing typed is lost.
import test from 'node:test';
import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { base, cell, login, open, proveUntil, root, send } from './support.mjs';

const ROOM = 'Room of P-1';

/** Two people on one page, each with a browser. */
async function together(path, roles, story) {
    const seats = await Promise.all(roles.map(() => open()));
    try {
        for (const [i, { page }] of seats.entries()) {
            await login(page, roles[i]);
            await page.goto(base + path);
        }
        await story(...seats.map(({ page }) => page));
    } finally {
        await Promise.all(seats.map(({ browser }) => browser.close()));
    }
}

test('of two who write one field the second sees both values and chooses', { timeout: 240000 }, async () => {
    await together('/j/museum/devices', ['lead', 'technician'], async (slow, quick) => {
        const field = slow.getByLabel(ROOM, { exact: true });
        const before = await field.inputValue();
        await field.focus();
        await slow.keyboard.type(' (mine)'); // while one types, the page does not change under the hands
        await cell(quick, ROOM, 'Ticket office');
        await slow.keyboard.press('Tab');
        await slow.waitForSelector('form.cell .wrong');
        assert.match(await slow.textContent('form.cell .wrong'), /Jonas Aydin wrote "Ticket office" meanwhile/);
        assert.match(await field.inputValue(), /\(mine\)/, 'what was typed is still there');
        await slow.click('button:has-text("Use mine")');
        await quick.waitForFunction((label) => /\(mine\)/.test(document.querySelector(`[aria-label="${label}"]`).value), ROOM);
        await cell(slow, ROOM, before);
    });
});

test('a change is taken back unless somebody built on it', { timeout: 240000 }, async () => {
    await together('/j/museum/devices', ['lead', 'technician'], async (lead, technician) => {
        const before = await lead.getByLabel(ROOM, { exact: true }).inputValue();
        const shows = (page, value) => page.waitForFunction(([label, wanted]) => document.querySelector(`[aria-label="${label}"]`).value === wanted, [ROOM, value]);
        await cell(lead, ROOM, 'Till');
        await shows(technician, 'Till');
        await cell(technician, ROOM, 'Till, left');
        await shows(lead, 'Till, left');
        await lead.click('#undo button');
        await lead.waitForSelector('.said');
        assert.match(await lead.textContent('.said'), /Jonas Aydin built on this change since/);
        await technician.click('#undo button');
        await shows(technician, 'Till');
        await shows(lead, 'Till');
        await lead.click('#undo button');
        await shows(lead, before);
        await lead.click('#redo button');
        await shows(lead, 'Till');
        await lead.click('#undo button');
        await shows(lead, before);
    });
});

test('a test of one\'s own is checked where it is typed, and outdated when its ground moves', { timeout: 400000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        const proof = `${base}/j/nordmole/proof`;
        await page.goto(proof);
        const form = page.locator('form:has(#tests-reach-from)');
        await page.selectOption('#tests-reach-from', { label: 'Technical' });
        await page.selectOption('#tests-reach-to', { label: 'RA-02' });
        await form.locator('input[name="row[port]"]').fill('5568/udp');
        await form.locator('input[name="row[note]"]').fill('The pager rings it.');
        await form.locator('button').click();
        await page.waitForSelector('form:has(#tests-reach-from) .wrong');
        assert.match(await form.locator('.wrong').textContent(), /over UDP an outpost asks SIP/);
        assert.equal(await form.locator('input[name="row[note]"]').inputValue(), 'The pager rings it.');
        assert.equal(await page.locator('#tests-reach-to').inputValue(), 'ra-02');
        await form.locator('input[name="row[port]"]').fill('5060/udp');
        await form.locator('button').click();
        const row = page.locator('table.book tr:has-text("RA-02 answers on 5060/udp")');
        await row.waitFor();

        const line = `${proof}?sel=tests/reach%3Atech%3Era-02%3A5060%2Fudp`;
        await proveUntil(page, line, 'button:has-text("Run this test")', async () => await page.locator('#walk .sign').first().textContent() !== 'not run');
        const verdict = async () => { await page.goto(proof); return (await row.locator('.sign').first().textContent()).trim(); };
        const answered = await verdict();
        assert.notEqual(answered, 'outdated');
        await page.goto(`${base}/j/nordmole/devices?sel=devices/ra-02`);
        await cell(page, 'Address of RA-02', '10.64.40.25');
        assert.equal(await verdict(), answered, 'what was set still counts, not what is planned since');
        await page.goto(`${base}/j/nordmole/networks`);
        const rule = page.locator('form[action$="/add/filters"]');
        await page.click('summary:has-text("add a rule")');
        await rule.locator('select[name="row[from]"]').selectOption({ label: 'Technical' });
        await rule.locator('select[name="row[to]"]').selectOption({ label: 'Quay' });
        await rule.locator('select[name="row[action]"]').selectOption('deny');
        await rule.locator('input[name="row[position]"]').fill('1');
        await send(page, rule.locator('button:not([name=ask])'));
        assert.equal(await verdict(), 'outdated', 'a rule that it goes by was put before');
        await page.goto(line);
        assert.match(await page.textContent('#walk'), /Changed since the test/);
        for (let taken = 0; taken < 2; taken++) {
            await send(page, page.locator('#undo button').first());
        }
        assert.equal(await verdict(), answered);
        await page.locator('div.small:has-text("The pager rings it.") button').click();
        await row.waitFor({ state: 'detached' });
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a step is blocked with a reason, and seen so by the other', { timeout: 240000 }, async () => {
    await together('/j/museum/bench?sel=devices/cam-1', ['technician', 'viewer'], async (technician, viewer) => {
        await send(technician, technician.locator('#step-unpack button:has-text("Blocked")'));
        await technician.waitForSelector('#step-unpack .wrong');
        assert.match(await technician.textContent('#step-unpack .wrong'), /Write why/);
        await technician.fill('#note-unpack', 'Box is missing.');
        await send(technician, technician.locator('#step-unpack button:has-text("Blocked")'));
        await viewer.waitForSelector('#step-unpack.is-blocked');
        assert.match(await viewer.textContent('#step-unpack'), /Jonas Aydin.*Box is missing\./s);
        await send(technician, technician.locator('#step-unpack button:has-text("undo")'));
        await viewer.waitForSelector('#step-unpack:not(.is-blocked)');
    });
});

test('a bad document tells every error by its place and brings nothing in', { timeout: 240000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'lead');
        const jobs = await page.locator('.jobcard').count();
        const file = join(mkdtempSync(join(tmpdir(), 'vorhut-')), 'bad.json');
        const document = JSON.parse(readFileSync(`${root}/demo/museum.json`, 'utf8'));
        document.job.timeZone = 'Moon/Sea';
        document.segments[0].network = '10.71.5.9/24';
        document.extensions[0].phone = 'nobody';
        writeFileSync(file, JSON.stringify(document));
        await page.setInputFiles('#document', file);
        await page.click('button:has-text("Import job")');
        await page.waitForSelector('.wrong');
        const errors = await page.locator('.wrong').allTextContents();
        assert.deepEqual(errors.map((error) => error.trim().split(/\s/)[0]), ['/job/timeZone', '/segments/0/network', '/extensions/0/phone']);
        assert.equal(await page.locator('.jobcard').count(), jobs);
    } finally {
        await browser.close();
    }
});
