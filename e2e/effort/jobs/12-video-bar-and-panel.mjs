import { bench, newJob, prove } from '../steps.mjs';

export const title = 'Video bar and panel';
export const hand = { V: 11, K: 3, P: 8, C: 3 };
export const mark = { S: 14, F: 13 };

export async function run(user) {
    const slug = await newJob(user, 'Heron room', `Meeting 10.136.20.0/24, gateway .1, DHCP .50-.99
Video bar, .31, 00-00-5E-00-53-30, Q7rT402, room account: room-heron@office.example
Touch panel, .32, 00-00-5E-00-53-31`);
    await bench(user, slug);
    await prove(user, slug);
    return slug;
}
