/*
 * The roster as a spreadsheet: arrows and Enter move, Shift with arrows selects a block, Ctrl D fills down, blocks are copied to and pasted
 * from the clipboard. A block is sent as one change, which is undone as one. A scanner types and presses Enter, so it fits.
 */
let anchor = null;
let focusAgain = null;

const tableOf = (element) => element?.closest?.('table.roster') ?? null;
const fieldIn = (cell) => cell?.querySelector('input.input, select.input') ?? null;
const rowsOf = (table) => [...table.tBodies[0].rows];
const isField = (element) => tableOf(element) && /^(INPUT|SELECT)$/.test(element.tagName) && element.classList.contains('input');

const placeOf = (element) => {
    const cell = element.closest('td');
    return { row: cell.parentNode, column: cell.cellIndex };
};

/** The next field in a direction, over cells that have none; null at the edge. */
const neighbour = (from, down, right) => {
    const rows = rowsOf(tableOf(from));
    const place = placeOf(from);
    let row = rows.indexOf(place.row) + down;
    let column = place.column + right;
    for (; rows[row]?.cells[column]; row += down, column += right) {
        const field = fieldIn(rows[row].cells[column]);
        if (field) { return field; }
    }
    return null;
};

const go = (field) => {
    field.focus();
    field.select?.();
};

/** The fields from the anchor to the focus, in rows; a single one where no block is selected. */
const block = (focus) => {
    const table = tableOf(focus);
    const rows = rowsOf(table);
    const a = placeOf(anchor && table.contains(anchor) ? anchor : focus);
    const b = placeOf(focus);
    const [top, bottom] = [rows.indexOf(a.row), rows.indexOf(b.row)].sort((x, y) => x - y);
    const [left, right] = [a.column, b.column].sort((x, y) => x - y);
    return rows.slice(top, bottom + 1).map((row) => [...row.cells].slice(left, right + 1).map(fieldIn));
};

const show = (focus) => {
    const table = tableOf(focus) ?? document.querySelector('table.roster');
    if (!table) { return; }
    table.querySelectorAll('td.taken').forEach((cell) => { cell.classList.remove('taken'); });
    if (!anchor || !tableOf(focus)) { return; }
    block(focus).flat().forEach((field) => { field?.closest('td').classList.add('taken'); });
};

const edit = (field, value) => {
    const { record, field: name, before } = field.form.elements;
    return { record: record.value, field: name.value, before: before.value, value };
};

/** What a text from outside means in a field: an option by its name, as people write it. */
const meaning = (field, text) => {
    if (field.tagName !== 'SELECT') { return text; }
    const wanted = text.trim().toLowerCase();
    const option = [...field.options].find((one) => one.value === text || one.textContent.trim().toLowerCase() === wanted);
    return option ? option.value : text;
};

const send = (edits) => {
    const form = document.getElementById('block');
    if (!form || !edits.length) { return; }
    form.elements.cells.value = JSON.stringify(edits);
    /* A field that has the focus keeps what is typed in it: it is left until the answer comes. */
    focusAgain = document.activeElement?.getAttribute('aria-label') ?? null;
    document.activeElement?.blur();
    form.requestSubmit();
};

const fillDown = (focus) => {
    const [first, ...others] = block(focus);
    if (!others.length) {
        const above = neighbour(focus, -1, 0);
        if (above) { send([edit(focus, above.value)]); }
        return;
    }
    const edits = [];
    for (const row of others) {
        row.forEach((field, i) => { if (field && first[i] && field.value !== first[i].value) { edits.push(edit(field, first[i].value)); } });
    }
    send(edits);
};

/** Where an arrow key leads; undefined where it is one of the field itself. */
const arrow = (event) => {
    const field = event.target;
    const isText = field.tagName === 'INPUT';
    const isWhole = isText && field.selectionStart === 0 && field.selectionEnd === field.value.length;
    switch (event.key) {
        case 'ArrowDown': return isText || event.shiftKey ? neighbour(field, 1, 0) : undefined;
        case 'ArrowUp': return isText || event.shiftKey ? neighbour(field, -1, 0) : undefined;
        case 'ArrowLeft': return !isText || isWhole || field.selectionEnd === 0 ? neighbour(field, 0, -1) : undefined;
        case 'ArrowRight': return !isText || isWhole || field.selectionStart === field.value.length ? neighbour(field, 0, 1) : undefined;
        default: return undefined;
    }
};

document.addEventListener('htmx:after:swap', () => {
    const field = focusAgain && document.querySelector(`table.roster [aria-label="${window.CSS.escape(focusAgain)}"]`);
    focusAgain = null;
    field?.focus();
});

document.addEventListener('keydown', (event) => {
    const field = event.target;
    if (!isField(field)) { return; }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'd') {
        event.preventDefault();
        fillDown(field);
        return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) { return; }
    if (event.key === 'Enter') {
        event.preventDefault();
        const next = neighbour(field, event.shiftKey ? -1 : 1, 0);
        if (next) { go(next); } else { field.blur(); }
        return;
    }
    const next = arrow(event);
    if (!next) { return; }
    event.preventDefault();
    anchor = event.shiftKey ? (tableOf(anchor) ? anchor : field) : null;
    go(next);
    show(next);
});

document.addEventListener('focusin', (event) => {
    if (anchor && !tableOf(event.target)) { anchor = null; show(event.target); }
});

document.addEventListener('pointerdown', (event) => {
    const field = event.target;
    if (event.shiftKey && tableOf(field) && field.classList.contains('input') && tableOf(document.activeElement)) {
        anchor = document.activeElement;
        setTimeout(() => { show(field); }, 0);
    } else if (anchor) {
        anchor = null;
        show(field);
    }
});

document.addEventListener('copy', (event) => {
    const focus = document.activeElement;
    if (!anchor || !tableOf(focus)) { return; }
    event.preventDefault();
    const text = (field) => {
        if (!field) { return ''; }
        return field.tagName === 'SELECT' ? field.options[field.selectedIndex].textContent.trim() : field.value;
    };
    event.clipboardData.setData('text/plain', block(focus).map((row) => row.map(text).join('\t')).join('\n'));
});

document.addEventListener('paste', (event) => {
    const focus = document.activeElement;
    const text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '');
    if (!tableOf(focus) || !/[\t\n]/.test(text)) { return; }
    event.preventDefault();
    const rows = rowsOf(tableOf(focus));
    const rowOf = (field) => rows.indexOf(placeOf(field).row);
    const first = placeOf(tableOf(anchor) && rowOf(anchor) < rowOf(focus) ? anchor : focus);
    const edits = [];
    text.split('\n').forEach((line, down) => {
        line.split('\t').forEach((value, right) => {
            const field = fieldIn(rows[rows.indexOf(first.row) + down]?.cells[first.column + right]);
            if (field && field.value !== meaning(field, value)) { edits.push(edit(field, meaning(field, value))); }
        });
    });
    send(edits);
});
