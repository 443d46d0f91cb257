// What the stories share: a browser, a login, the console.
import { chromium } from 'playwright-core';
import { execFileSync, spawn } from 'node:child_process';
import { openSync, readFileSync, writeFileSync } from 'node:fs';

export const ground = process.env.VORHUT_STATE_DIR;
export const root = new URL('..', import.meta.url).pathname;
export const base = `http://127.0.0.1:${process.env.VORHUT_PORT}`;

export async function open(viewport = { width: 1280, height: 800 }) {
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'] });
    const page = await (await browser.newContext({ viewport, colorScheme: 'light', acceptDownloads: true })).newPage();
    const complaints = [];
    page.on('console', (message) => { if (message.type() === 'error' && !/status of 40[01]/.test(message.text())) { complaints.push(message.text()); } });
    page.on('pageerror', (error) => complaints.push(error.message));
    page.setDefaultTimeout(60000); // a busy machine is slow, and no less right
    return { browser, page, complaints };
}

export async function login(page, role) {
    const password = readFileSync(`${ground}/logins`, 'utf8').match(new RegExp(`${role}\\s+(\\S+)`))[1];
    await page.goto(`${base}/login`);
    await page.fill('#username', role);
    await page.fill('#password', password);
    await page.click('button:has-text("Log in")');
    await page.waitForURL((url) => url.pathname !== '/login');
}

/** Types into, or picks in, a field that is edited in place, leaves it, and waits until the page has it. */
export async function cell(page, label, value) {
    const field = page.getByLabel(label, { exact: true });
    const written = page.waitForResponse((response) => response.request().method() === 'POST' && response.url().endsWith('/edit'));
    if (await field.evaluate((element) => element.tagName === 'SELECT')) {
        await field.selectOption(value); // picking is leaving
    } else {
        await field.fill(value);
        await field.press('Tab');
    }
    await written;
    await page.waitForLoadState('networkidle');
}

/** Presses a button that sends a form, and waits until the answer is there. */
export async function send(page, button) {
    const answered = page.waitForResponse((response) => response.request().method() === 'POST');
    /* An answer is there before it is shown: what stands on the page is read after that. */
    const shown = page.evaluate(() => new Promise((resolve) => {
        document.addEventListener('htmx:after:swap', resolve, { once: true });
        setTimeout(resolve, 4000);
    })).catch(() => null);
    await button.click();
    await answered;
    await shown;
    await page.waitForLoadState('networkidle');
}

/** Waits until a look at the page says yes; looks by loading it anew. */
export async function until(page, url, look, seconds = 180) {
    const end = Date.now() + seconds * 1000;
    for (;;) {
        await page.goto(url);
        if (await look(page)) { return; }
        if (Date.now() > end) { throw new Error(`Not within ${seconds} s: ${url}\n${(await page.textContent('main')).replace(/\s+/g, ' ').slice(0, 1500)}`); }
        await page.waitForTimeout(500);
    }
}

/** Waits until the pages answer again after a start. */
export async function answering() {
    for (let tries = 0; tries < 300; tries++) {
        if (await fetch(`${base}/login`).then((answer) => answer.ok, () => false)) { return; }
        await new Promise((later) => setTimeout(later, 200));
    }
    throw new Error('The web server did not come back.');
}

/** Presses a button of the proof page until a look says yes: what was asked while a device still started is asked again, as a technician would. */
export async function proveUntil(page, url, button, look) {
    for (let tries = 0; tries < 8; tries++) {
        await page.goto(url);
        await page.click(button);
        await until(page, url, async () => await page.locator('.said:has-text("Running")').count() === 0);
        if (await look(page)) { return; }
        await page.waitForTimeout(2000);
    }
    throw new Error(`Not after eight runs: ${url}\n${(await page.textContent('main')).replace(/\s+/g, ' ').slice(0, 1500)}`);
}

export const console_ = (...args) => execFileSync('php', ['bin/console', ...args], { cwd: root, encoding: 'utf8', maxBuffer: 1e8, stdio: ['ignore', 'pipe', 'pipe'] });

export const pidOf = (part) => Number(readFileSync(`${ground}/run/${part}.pid`, 'utf8'));

/** As a power cut does it: the process and all its children, at once. */
export function killHard(part) {
    try { process.kill(-pidOf(part), 'SIGKILL'); } catch { process.kill(pidOf(part), 'SIGKILL'); }
}

/** @param {boolean} kept as the scripts start it: with somebody who starts it again */
export function startAgain(part, kept = false) {
    const log = openSync(`${ground}/log/${part}.log`, 'a');
    const command = { web: ['php', '-d', 'opcache.enable_cli=1', '-S', `127.0.0.1:${process.env.VORHUT_PORT}`, '-t', 'public', 'public/index.php'], lab: ['php', 'bin/console', 'vorhut:lab'], worker: ['php', 'bin/console', 'vorhut:outpost'] }[part];
    if (kept) { command.unshift('tools/supervise'); }
    const child = spawn(command[0], command.slice(1), { cwd: root, detached: true, stdio: ['ignore', log, log], env: { ...process.env, PHP_CLI_SERVER_WORKERS: part === 'web' ? '6' : '' } });
    child.unref();
    writeFileSync(`${ground}/run/${part}.pid`, String(child.pid));
}
