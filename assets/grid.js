/*
 * The roster as one works a spreadsheet: arrows and Enter move, Shift with arrows takes a block, Ctrl D fills down, blocks are copied to and
 * pasted from the clipboard. A block is sent as one change, which is taken back as one. A scanner types and presses Enter: it fits.
 */
(function () {
    var anchor = null;
    var back = null;

    function grid(element) { return element && element.closest ? element.closest('table.roster') : null; }
    function field(td) { return td ? td.querySelector('input.input, select.input') : null; }
    function place(element) { var td = element.closest('td'); return td ? { row: td.parentNode, column: td.cellIndex } : null; }
    function rows(table) { return Array.prototype.slice.call(table.tBodies[0].rows); }

    function move(from, down, right) {
        var at = place(from);
        var all = rows(grid(from));
        var row = all.indexOf(at.row);
        var column = at.column;
        for (var step = 0; step < all.length + 40; step++) {
            row += down;
            column += right;
            if (row < 0 || row >= all.length || column < 0 || column >= all[row].cells.length) { return null; }
            var next = field(all[row].cells[column]);
            if (next) { return next; }
        }
        return null;
    }

    function go(next) {
        if (!next) { return; }
        next.focus();
        if (next.select) { next.select(); }
    }

    /** The cells from the anchor to the one that has the focus, in rows; a single one where no block is taken. */
    function block(focus) {
        var table = grid(focus);
        var all = rows(table);
        var a = place(anchor && table.contains(anchor) ? anchor : focus);
        var b = place(focus);
        var top = Math.min(all.indexOf(a.row), all.indexOf(b.row)), bottom = Math.max(all.indexOf(a.row), all.indexOf(b.row));
        var left = Math.min(a.column, b.column), right = Math.max(a.column, b.column);
        return all.slice(top, bottom + 1).map(function (row) { return Array.prototype.slice.call(row.cells, left, right + 1).map(field); });
    }

    function show(focus) {
        var table = grid(focus) || document.querySelector('table.roster');
        if (!table) { return; }
        table.querySelectorAll('td.taken').forEach(function (td) { td.classList.remove('taken'); });
        if (anchor && grid(focus)) {
            block(focus).forEach(function (line) { line.forEach(function (one) { if (one) { one.closest('td').classList.add('taken'); } }); });
        }
    }

    function wish(one, value) {
        var form = one.form;
        return { record: form.elements.record.value, field: form.elements.field.value, before: form.elements.before.value, value: value };
    }

    /** What a cell is called in a block that came from outside: an option by its name, as people write it. */
    function meant(one, text) {
        if (one.tagName !== 'SELECT') { return text; }
        var found = Array.prototype.filter.call(one.options, function (option) {
            return option.value === text || option.textContent.trim().toLowerCase() === text.trim().toLowerCase();
        })[0];
        return found ? found.value : text;
    }

    function send(cells) {
        var form = document.getElementById('block');
        if (!form || !cells.length) { return; }
        form.elements.cells.value = JSON.stringify(cells);
        // A field that has the focus keeps what stands in it: it is left for the time of the answer.
        back = document.activeElement && document.activeElement.getAttribute('aria-label');
        if (document.activeElement) { document.activeElement.blur(); }
        form.requestSubmit();
    }

    document.addEventListener('htmx:after:swap', function () {
        var one = back && document.querySelector('table.roster [aria-label="' + window.CSS.escape(back) + '"]');
        back = null;
        if (one) { one.focus(); }
    });

    document.addEventListener('keydown', function (event) {
        var one = event.target;
        if (!grid(one) || !/^(INPUT|SELECT)$/.test(one.tagName) || !one.classList.contains('input')) { return; }
        var key = event.key;
        var isText = one.tagName === 'INPUT';
        var whole = isText && one.selectionStart === 0 && one.selectionEnd === one.value.length;
        var next = null;
        if ((event.ctrlKey || event.metaKey) && key.toLowerCase() === 'd') {
            event.preventDefault();
            var lines = block(one);
            if (lines.length === 1) {
                var above = move(one, -1, 0);
                if (above) { send([wish(one, above.value)]); }
                return;
            }
            var filled = [];
            lines.slice(1).forEach(function (line) {
                line.forEach(function (cell, i) { if (cell && lines[0][i] && cell.value !== lines[0][i].value) { filled.push(wish(cell, lines[0][i].value)); } });
            });
            send(filled);
            return;
        }
        if (event.ctrlKey || event.metaKey || event.altKey) { return; }
        if (key === 'Enter') {
            event.preventDefault();
            next = move(one, event.shiftKey ? -1 : 1, 0);
            if (next) { go(next); } else { one.blur(); }
            return;
        }
        if (key === 'ArrowDown' && (isText || event.shiftKey)) { next = move(one, 1, 0); }
        else if (key === 'ArrowUp' && (isText || event.shiftKey)) { next = move(one, -1, 0); }
        else if (key === 'ArrowLeft' && (!isText || whole || one.selectionEnd === 0)) { next = move(one, 0, -1); }
        else if (key === 'ArrowRight' && (!isText || whole || one.selectionStart === one.value.length)) { next = move(one, 0, 1); }
        else { return; }
        if (!next) { return; }
        event.preventDefault();
        if (event.shiftKey) { anchor = anchor && grid(anchor) ? anchor : one; } else { anchor = null; }
        go(next);
        show(next);
    });

    document.addEventListener('focusin', function (event) {
        if (anchor && !grid(event.target)) { anchor = null; show(event.target); }
    });
    document.addEventListener('pointerdown', function (event) {
        var one = event.target;
        if (event.shiftKey && grid(one) && one.classList.contains('input') && grid(document.activeElement)) {
            anchor = document.activeElement;
            setTimeout(function () { show(one); }, 0);
        } else if (anchor) { anchor = null; show(one); }
    });

    document.addEventListener('copy', function (event) {
        var one = document.activeElement;
        if (!anchor || !grid(one)) { return; }
        event.preventDefault();
        event.clipboardData.setData('text/plain', block(one).map(function (line) {
            return line.map(function (cell) {
                return !cell ? '' : cell.tagName === 'SELECT' ? cell.options[cell.selectedIndex].textContent.trim() : cell.value;
            }).join('\t');
        }).join('\n'));
    });

    document.addEventListener('paste', function (event) {
        var one = document.activeElement;
        var text = event.clipboardData.getData('text/plain').replace(/\r\n?/g, '\n').replace(/\n$/, '');
        if (!grid(one) || !/[\t\n]/.test(text)) { return; }
        event.preventDefault();
        var all = rows(grid(one));
        var at = place(anchor && grid(anchor) && all.indexOf(place(anchor).row) < all.indexOf(place(one).row) ? anchor : one);
        var cells = [];
        text.split('\n').forEach(function (line, down) {
            line.split('\t').forEach(function (value, right) {
                var row = all[all.indexOf(at.row) + down];
                var cell = row && row.cells[at.column + right] ? field(row.cells[at.column + right]) : null;
                if (cell && cell.value !== meant(cell, value)) { cells.push(wish(cell, meant(cell, value))); }
            });
        });
        send(cells);
    });
})();
