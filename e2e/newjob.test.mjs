// From nothing to a roster with addresses: one form for the job, one for further devices; then the job is deleted by its name.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { base, console_, login, open } from './support.mjs';

const OUTLINE = `Voice 10.64.120.0/24, gateway .1, VLAN 120
2 IP phones, .101, ext 2101-2102
Hall 10.64.130.0/24, gateway .1

Tag\tType\tVLAN\tMAC
PBX-1\tPBX\tVoice\t00:00:5e:00:53:e0
CAM-1\tPTZ\tHall\t0000.5e00.53e1`;

test('a job starts from one form, and a series of devices from another', { timeout: 120000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        const form = page.locator('form[action="/new"]');
        await form.locator('[name=name]').fill('Weir');
        await form.locator('[name=outline]').fill(OUTLINE);
        await form.locator('button').click();
        await page.waitForURL(/\/j\/weir[^/]*\/brief/);
        const slug = new URL(page.url()).pathname.split('/')[2];
        const roster = () => JSON.parse(console_('vorhut:export', slug));
        assert.deepEqual(roster().devices.map((one) => one.tag).sort(), ['CAM-1', 'PBX-1', 'PH-01', 'PH-02']);

        await page.goto(`${base}/j/${slug}/devices`);
        const add = page.locator('form[action$="/devices/add"]');
        await add.locator('[name=kind]').fill('ptz');
        await add.locator('[name=segment]').selectOption({ label: 'Hall' });
        await add.locator('[name=count]').fill('3');
        await add.locator('[name=count]').press('Enter');
        await page.getByText('3 devices added: CAM-2 to CAM-4.').first().waitFor();
        assert.equal(await add.locator('[name=kind]').inputValue(), 'ptz');
        const planned = roster().settings.filter((one) => one.key.endsWith('#address')).map((one) => one.planned);
        assert.equal(new Set(planned).size, 7, 'each device has an address of its own');

        /* A file is read into the field, in the code page of a spreadsheet; what it says is seen before it is sent. */
        await page.setInputFiles('input[data-into=table]', { name: 'list.csv', mimeType: 'text/csv', buffer: Buffer.from('tag;kind;room\nCAM-9;PTZ;S\xe4l', 'latin1') });
        await page.waitForFunction(() => document.querySelector('#table').value.includes('Säl'));
        assert.equal(await page.locator('#table-status').textContent(), 'list.csv');
        /* The same file again replaces what it brought; below typed text it is added. */
        const again = { name: 'list.csv', mimeType: 'text/csv', buffer: Buffer.from('CAM-9;PTZ;Hall') };
        await page.setInputFiles('input[data-into=table]', again);
        await page.waitForFunction(() => document.querySelector('#table').value === 'CAM-9;PTZ;Hall');
        await page.fill('#table', 'CAM-8;PTZ;Hall\n');
        await page.setInputFiles('input[data-into=table]', again);
        await page.waitForFunction(() => document.querySelector('#table').value === 'CAM-8;PTZ;Hall\nCAM-9;PTZ;Hall');

        await page.goto(`${base}/j/${slug}/brief`);
        await page.locator('#delete summary').click();
        await page.locator('#delete input[name=delete]').fill('Weir');
        await page.locator('#delete button').click();
        await page.waitForURL(`${base}/`);
        assert.equal((await page.goto(`${base}/j/${slug}/brief`)).status(), 404);
        assert.deepEqual(complaints.filter((one) => !/404/.test(one)), []);
    } finally { await browser.close(); }
});
