/* Through the matrix by arrow keys: from cell to cell, over what is empty. */
const STEPS = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };

document.addEventListener('keydown', (event) => {
    const step = STEPS[event.key];
    const cell = step && event.target.closest?.('table[data-matrix] td');
    if (!cell || event.altKey || event.ctrlKey || event.metaKey) { return; }
    const rows = [...cell.closest('tbody').rows];
    let [row, column] = [rows.indexOf(cell.parentElement) + step[0], cell.cellIndex + step[1]];
    for (; rows[row]?.cells[column]; row += step[0], column += step[1]) {
        const next = rows[row].cells[column].querySelector('a');
        if (next) { event.preventDefault(); next.focus(); return; }
    }
});
