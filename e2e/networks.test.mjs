// Networks: who reaches whom, asked first, let through, gone and looked at; and the administrator answers by a link.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, cell, login, open, send, until } from './support.mjs';

const job = `${base}/j/nordmole`;

test('the matrix by keyboard, opened down to one walk, and what if', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${job}/networks/reach`);
        const first = page.locator('table[data-matrix] tbody tr').first().locator('a').first();
        await first.focus();
        for (const key of ['ArrowRight', 'ArrowRight', 'ArrowDown', 'ArrowLeft']) { await page.keyboard.press(key); }
        const at = await page.evaluate(() => [document.activeElement.closest('td').cellIndex, document.activeElement.closest('tr').sectionRowIndex]);
        assert.deepEqual(at, [2, 1], 'two to the right, one down, one back; the first column is the head');
        await page.keyboard.press('Enter');
        await page.waitForURL(/from=/);
        assert.ok(await page.locator('#opened a.target').count() > 0, 'each cell says what it asks');

        await page.goto(`${job}/networks/reach?from=tech&to=hall#opened`);
        await page.click('#opened tr:has-text("CAM-01") a.target:has-text("80/tcp")');
        await page.waitForURL(/networks\?from=outposts/);
        assert.match(await page.textContent('main'), /The gateway 10\.46\.30\.1 of CAM-01 is not a host address in its own 10\.64\.30\.0\/24/);

        await page.goto(`${job}/networks/reach`);
        await page.fill('#edit', 'nics/cam-01.lan#gateway set=10.64.30.1');
        await page.click('button:has-text("Preview")');
        await page.waitForURL(/edit=/);
        assert.match(await page.textContent('#what'), /From Technical, CAM-01 80\/tcp begins to answer \(before: gateway outside its network\)/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('the rules that the job needs, asked first, put into the plan, and taken back', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${job}/networks/rules`);
        assert.match(await page.textContent('main'), /With only \d+ rules, all required flows work\. None is redundant/);
        assert.match(await page.textContent('main'), /Source of MR-01 is ENC-01/);
        await page.click('a:has-text("Preview")');
        await page.waitForURL(/ask=1/);
        await send(page, page.locator('button:has-text("Put these rules into the plan")'));
        assert.match(await page.textContent('main'), /the rules in the plan block no required flow/);
        await page.goto(`${job}/networks/reach`);
        assert.equal(await page.locator('table[data-matrix] .cell-sign.wanted').count() > 0, true, 'a rule does not mend a gateway');
        await send(page, page.locator('button:has-text("Undo")'));
        await page.goto(`${job}/networks/rules`);
        assert.match(await page.textContent('main'), /Blocked by the rules in the plan/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a block of the tape opened closer, a pin drawn along, put where one types, and taken back', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${job}/networks`);
        await page.locator('#segment-hall svg.tape a:has(rect.block)').first().click();
        await page.waitForURL(/zoom=10\.64\.30\./);
        const pin = page.locator('#segment-hall svg.tape a[data-nic]').first();
        const was = await pin.getAttribute('data-address');
        const nic = await pin.getAttribute('data-nic');
        const head = await pin.locator('circle').boundingBox();
        await page.mouse.move(head.x + head.width / 2, head.y + head.height / 2);
        await page.mouse.down();
        await page.mouse.move(head.x + 200, head.y, { steps: 4 });
        await page.mouse.up();
        const field = page.locator('#segment-hall form.moved input[name=value]');
        assert.notEqual(await field.inputValue(), was, 'where it was drawn to');
        await pin.focus();
        await page.keyboard.press('Alt+ArrowRight');
        await field.fill('10.64.30.199');
        await send(page, page.locator('#segment-hall form.moved button.strong'));
        await page.goto(`${job}/networks`);
        assert.equal(await page.locator(`a[data-nic="${nic}"]`).getAttribute('data-address'), '10.64.30.199');
        await send(page, page.locator('button:has-text("Undo")'));
        await page.goto(`${job}/networks`);
        assert.equal(await page.locator(`a[data-nic="${nic}"]`).getAttribute('data-address'), was);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a list of ranges, pasted, asked in the lab, and cleaned of what is silent', { timeout: 300000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${job}/networks/ranges?from=tech`);
        assert.match(await page.inputValue('#rangeLists-ranges'), /10\.64\.30\.11-10\.64\.30\.12/);
        await page.fill('#rangeLists-name', 'Pasted');
        await page.fill('#rangeLists-ranges', '10.64.20.8-12, 10.64.20.31-10.64.20.34\n10.64.40.48/29');
        await page.selectOption('#rangeLists-from', 'tech');
        await send(page, page.locator('button:has-text("Add list")'));
        assert.match(await page.textContent('main'), /17 addresses, scanned from/);
        await send(page, page.locator('section:has-text("Pasted") form[action$="/ask"] button'));
        await until(page, `${job}/networks/ranges`, async () => /17 scanned, \d+ answered/.test(await page.textContent('main')), 90);
        const text = await page.textContent('section:has-text("Pasted")');
        assert.match(text, /in the lab/);
        assert.match(text, /10\.64\.20\.10\s+answers/);
        assert.match(text, /10\.64\.254|10\.64\.10\.254/, 'the place and the adapter that it left by');
        await send(page, page.locator('section:has-text("Pasted") button:has-text("Remove addresses without an answer")'));
        const left = await page.getByLabel('Ranges of Pasted').inputValue();
        assert.match(left, /10\.64\.20\.10/);
        assert.doesNotMatch(left, /10\.64\.40\.48\/29|10\.64\.20\.8/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('the administrator answers by a link, and the lead engineer takes it', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/j/museum/networks?sel=segments/house`);
        const was = await page.getByLabel('Gateway (- for none)').inputValue();
        await cell(page, 'Gateway (- for none)', '');
        await page.goto(`${base}/j/museum/networks/ask`);
        await send(page, page.locator('button:has-text("Create link")'));
        const link = new URL(await page.textContent('#made-link'));

        const there = await (await browser.newContext()).newPage();
        await there.goto(base + link.pathname);
        assert.match(await there.textContent('main'), /Lighthouse museum/);
        await there.fill('#by', 'Ada of the harbour office');
        const field = there.locator('fieldset:has-text("House") input[name^="answer"]').first();
        await field.fill('10.71.9.1');
        await there.click('form button.strong');
        assert.match(await there.textContent('.wrong[id]'), /is not in 10\.71\.5\.0\/24/);
        assert.equal(await field.inputValue(), '10.71.9.1', 'nothing that was typed is lost');
        await field.fill(was);
        await there.click('form button.strong');
        await there.waitForURL(/kept=1/);

        await page.goto(`${base}/j/museum/networks/ask`);
        assert.match(await page.textContent('main'), /Ada of the harbour office/);
        await send(page, page.locator('button:has-text("Apply to the plan")'));
        await page.goto(`${base}/j/museum/networks?sel=segments/house`);
        assert.equal(await page.getByLabel('Gateway (- for none)').inputValue(), was);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
