import { bench, brief, newJob, prove } from '../steps.mjs';

export const title = 'Four presentation gateways, two isolated';
export const hand = { V: 36, K: 0, P: 32, C: 24 };
export const mark = { S: 16, F: 22 };

export async function run(user) {
    const slug = await newJob(user, 'Four screens', `House 10.135.60.0/24, gateway .1, DNS 10.135.8.4
2 presentation gateways, .41-.42, label 10.99.3.7/24
Island 192.168.94.0/24, no router
2 local presentation gateways, .11-.12, label 10.99.3.7/24`);
    await brief(user, slug, { Administrator: 'Ida Brekke' });
    await bench(user, slug);
    await prove(user, slug);
    return slug;
}
