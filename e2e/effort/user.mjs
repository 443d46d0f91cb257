// A person at Vorhut whose effort is counted: forms sent, values typed, clicks and keys.
/** Cells of a pasted text that hold something: each is one value typed. */
const cells = (text) => text.split(/[\t\n,;]/).filter((cell) => cell.trim() !== '').length;

export class User {
    constructor(page) {
        this.page = page;
        this.effort = { submissions: 0, fields: 0, clicks: 0, keys: 0 };
        this.trace = [];
        page.on('request', (request) => {
            if (request.method() === 'POST' && this.isCounting) {
                this.effort.submissions++;
                this.trace.push(`S ${new URL(request.url()).pathname} ${(request.postData() ?? '').replace(/token=[^&]*&?|_form=[^&]*&?/g, '').slice(0, 90)}`);
            }
        });
        this.isCounting = true;
    }

    /** One value by keyboard. */
    async type(field, value) {
        await field.fill(value);
        this.effort.fields++;
        this.effort.keys += value.length;
        this.trace.push(`F ${value}`);
    }

    /** Several values as one text, such as rows of a spreadsheet. */
    async paste(field, text) {
        await field.fill(text);
        this.effort.fields += cells(text);
        this.effort.keys += 2;
        this.trace.push(`F×${cells(text)}`);
    }

    /** Presses a button or a link, and waits until what follows is shown. */
    async press(button) {
        this.effort.clicks++;
        const shown = this.page.evaluate(() => new Promise((resolve) => {
            document.addEventListener('htmx:after:swap', () => setTimeout(resolve, 30), { once: true });
            setTimeout(resolve, 4000);
        })).catch(() => null);
        await button.click();
        await shown;
        await this.page.waitForLoadState('networkidle');
    }

    /** What the bench needs and a user on site does not do. */
    async uncounted(work) {
        this.isCounting = false;
        const before = { ...this.effort };
        await work();
        this.effort = before;
        this.isCounting = true;
    }
}
