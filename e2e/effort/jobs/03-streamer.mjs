import { base } from '../../support.mjs';
import { bench, newJob, prove } from '../steps.mjs';

export const title = 'Streamer on a multi-room controller';
export const hand = { V: 11, K: 0, P: 14, C: 5 };
export const mark = { S: 14, F: 12 };

export async function run(user) {
    const slug = await newJob(user, 'Home', `Home 192.168.72.0/24, gateway .1, DHCP .100-.150
Multi-room controller, .31
Multi-room streamer, .32, cabled input: 6`);
    const { page } = user;
    await page.goto(`${base}/j/${slug}/devices?sel=devices/ac-01`);
    const licence = page.locator('form[action$="/add/licences"]');
    await licence.evaluate((form) => { form.closest('details').open = true; });
    await user.type(licence.locator('[name="row[arrivedOn]"]'), '2026-12-01');
    await user.press(licence.locator('button').first());
    await bench(user, slug);
    await prove(user, slug);
    return slug;
}
