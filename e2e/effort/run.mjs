// Runs worked jobs on a started demo and prints what they cost beside their mark; fails above it:
// VORHUT_PORT=8400 VORHUT_STATE_DIR=var/demo node e2e/effort/run.mjs [NUMBER…] [--trace]
import { readdirSync } from 'node:fs';
import { login, open } from '../support.mjs';
import { openEnds } from './steps.mjs';
import { User } from './user.mjs';

const wanted = process.argv.slice(2).filter((one) => /^\d+$/.test(one)).map(Number);
const trace = process.argv.includes('--trace');
for (const file of readdirSync(new URL('jobs', import.meta.url)).sort((a, b) => parseInt(a) - parseInt(b))) {
    const number = parseInt(file);
    if (wanted.length && !wanted.includes(number)) { continue; }
    const story = await import(`./jobs/${file}`);
    const { browser, page } = await open();
    const user = new User(page);
    try {
        await user.uncounted(() => login(page, 'lead'));
        const slug = await story.run(user);
        const { submissions: S, fields: F, clicks, keys } = user.effort;
        user.isCounting = false;
        const left = await openEnds(user, slug);
        console.log(`${number} ${story.title}: S${S} (${story.mark.S}) F${F} (${story.mark.F}) clicks ${clicks} keys ${keys}; open ${left.length}`);
        if (S > story.mark.S || F > story.mark.F || left.length > 0) { process.exitCode = 1; }
        if (trace) { console.log(user.trace.join('\n')); }
        left.forEach((one) => console.log(`   ${one}`));
    } catch (e) {
        console.log(user.trace.join('\n'));
        process.exitCode = 1;
        console.log(`${number} ${story.title}: ${e.message.slice(0, 400)}`);
    } finally {
        await page.locator('button:has-text("Stop the lab")').click({ timeout: 3000 }).catch(() => null);
        await page.waitForTimeout(1500);
        await browser.close();
    }
}
