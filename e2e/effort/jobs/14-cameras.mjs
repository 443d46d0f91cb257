import { base } from '../../support.mjs';
import { bench, newJob, prove } from '../steps.mjs';

export const title = 'Five PTZ cameras in sequence';
export const hand = { V: 71, K: 45, P: 46, C: 10 };
export const mark = { S: 18, F: 27 };

export async function run(user) {
    const slug = await newJob(user, 'Five cameras', `Studio 172.29.12.0/24
5 PTZ cameras, .171-.175, label 10.99.5.88/24
Production computer, .20`);
    const { page } = user;
    await page.goto(`${base}/j/${slug}/services/streams`);
    await page.locator('form[action$="/table/streams"]').evaluate((form) => {
        for (let at = form; at; at = at.parentElement) {
            if (at.tagName === 'DETAILS') { at.open = true; }
        }
    });
    await user.paste(page.locator('form[action$="/table/streams"] textarea'), `Name,From,Bit rate (kbit/s)
Camera 1,CAM-01,22000
Camera 2,CAM-02,22000
Camera 3,CAM-03,22000
Camera 4,CAM-04,22000
Camera 5,CAM-05,22000`);
    await user.press(page.locator('form[action$="/table/streams"] button'));
    await bench(user, slug);
    await prove(user, slug, ['22000']);
    return slug;
}
