// What every worked job does: it starts from one form, its run sheets are marked, its tests run, its questions are answered.
import { base, cell, console_ } from '../support.mjs';

/** @returns {Promise<string>} the slug of the new job */
export async function newJob(user, name, outline) {
    const { page } = user;
    await page.goto(base);
    const form = page.locator('form[action="/new"]');
    await user.type(form.locator('[name=name]'), name);
    await user.paste(form.locator('[name=outline]'), outline);
    await user.press(form.locator('button'));
    await page.waitForURL(/\/j\/[^/]+\/(brief|devices|networks)/);
    const slug = new URL(page.url()).pathname.split('/')[2];
    await user.uncounted(async () => {
        await page.goto(`${base}/j/${slug}/brief`);
        await cell(page, 'Practice job', 'yes');
    });
    return slug;
}

export const job = (slug) => JSON.parse(console_('vorhut:export', slug));

/** Marks the run sheet of each device up to its last step; a device whose next step waits for another one comes later. */
export async function bench(user, slug) {
    const { page } = user;
    let left = job(slug).devices;
    for (let rounds = 0; rounds < 6 && left.length > 0; rounds++) {
        const open = [];
        for (const device of left) {
            await page.goto(`${base}/j/${slug}/bench?sel=devices/${device.key}`);
            const next = page.locator('#sheet li.next');
            while (await next.count() > 0 && await next.locator('.sign.blocked').count() === 0) {
                const before = await page.locator('#sheet li.is-done').count();
                const upTo = page.locator('#sheet button:has-text("Done up to here")').last();
                await user.press(await upTo.count() ? upTo : next.locator('button:has-text("Done")').first());
                if (await page.locator('#sheet li.is-done').count() === before) { break; }
            }
            if (await next.count() > 0) { open.push([device, (await next.textContent()).replace(/\s+/g, ' ').slice(0, 300)]); }
        }
        if (open.length === left.length) {
            open.forEach(([device, text]) => user.trace.push(`open: ${device.tag} ${text}`));
            return;
        }
        left = open.map(([device]) => device);
    }
}

/** Values of the Brief, each in its field. */
export async function brief(user, slug, values) {
    await user.page.goto(`${base}/j/${slug}/brief`);
    for (const [label, value] of Object.entries(values)) {
        user.effort.fields++;
        user.effort.keys += value.length;
        await cell(user.page, label, value);
    }
}

/**
 * Runs all tests with the lab as the site, and answers what a person must answer.
 *
 * @param {string[]} measured the numbers that are asked for, in the order of the questions
 */
export async function prove(user, slug, measured = []) {
    const { page } = user;
    await page.goto(`${base}/j/${slug}/proof`);
    await user.uncounted(async () => {
        await page.click('button:has-text("Start the lab")');
        await page.waitForSelector('button:has-text("Stop the lab")');
    });
    const ends = async () => {
        for (let tries = 0; tries < 90; tries++) {
            await page.goto(`${base}/j/${slug}/proof`);
            if (await page.locator('.said:has-text("Running")').count() === 0) { return; }
            await page.waitForTimeout(1000);
        }
    };
    await user.press(page.locator('button:has-text("Run all tests")'));
    await user.uncounted(async () => {
        await ends();
        /* Devices of the lab start in real time: what was asked too early is asked again. */
        for (let tries = 0; tries < 4 && await page.locator('table.book tr.failed, table.book tr.not-run:not(:has(form.answer))').count() > 0; tries++) {
            await page.waitForTimeout(4000);
            await page.click('button:has-text("Run tests that failed")');
            await ends();
        }
    });
    const asked = page.locator('form.answer');
    for (let left = await asked.count(); left > 0; left = await asked.count()) {
        const one = asked.first();
        const number = one.locator('[name=number]');
        if (await number.count()) {
            await user.type(number, measured.shift() ?? '40');
            await user.press(one.locator('button').first());
        } else {
            await user.press(one.locator('button:has-text("Yes")'));
        }
        await page.waitForFunction((n) => document.querySelectorAll('form.answer').length < n, left).catch(() => null);
        if (await asked.count() === left) { user.trace.push('answer refused'); break; }
    }
}

/** @returns {Promise<string[]>} what keeps the job from its end */
export async function openEnds(user, slug) {
    await user.page.goto(`${base}/j/${slug}/proof`);
    return user.page.locator('table.book tr.failed, table.book tr.not-run, table.book tr.outdated').evaluateAll((rows) => rows.map((row) => row.textContent.replace(/\s+/g, ' ').trim().slice(0, 160)));
}
