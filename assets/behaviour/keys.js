import { isTyping } from './typing.js';

/*
 * Keys of every page: 1 to 7 the stages, / search, ? help, Ctrl Z and Ctrl Shift Z undo and redo, Escape leaves a field. An element with
 * data-press has a key of its own.
 */
const toggleHelp = () => {
    const help = document.getElementById('help');
    if (help) { help.hidden = !help.hidden; }
};

const leave = () => {
    const help = document.getElementById('help');
    if (help) { help.hidden = true; }
    if (isTyping(document.activeElement)) { document.activeElement.blur(); }
};

const undo = (event) => {
    const form = document.getElementById(event.shiftKey ? 'redo' : 'undo');
    if (form) { event.preventDefault(); form.requestSubmit(); }
};

document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape') { leave(); return; }
    if (isTyping(document.activeElement)) { return; }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') { undo(event); return; }
    if (event.ctrlKey || event.metaKey || event.altKey) { return; }
    if (/^[1-7]$/.test(event.key)) {
        document.querySelector(`.stages a[data-key="${event.key}"]`)?.click();
    } else if (event.key === '/') {
        const search = document.getElementById('search');
        if (search) { event.preventDefault(); search.focus(); }
    } else if (event.key === '?') {
        toggleHelp();
    } else if (/^[a-z]$/.test(event.key)) {
        document.querySelector(`[data-press="${event.key}"]`)?.click();
    }
});

document.addEventListener('click', (event) => {
    if (event.target.closest('[data-help]')) { toggleHelp(); }
});
