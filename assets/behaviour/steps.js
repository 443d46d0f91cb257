/* After a mark on a run sheet the next step is shown and has the focus, so that the page does not jump to its top. */
let marked = false;

document.addEventListener('submit', (event) => {
    marked = event.target.getAttribute('action')?.endsWith('/bench/mark') ?? false;
});

document.addEventListener('htmx:after:swap', () => {
    if (!marked) { return; }
    marked = false;
    const refused = document.querySelector('#sheet .wrong');
    const next = refused?.closest('li') ?? document.querySelector('#sheet li.next');
    if (!next) { return; }
    next.scrollIntoView({ block: 'nearest' });
    (refused?.parentElement.querySelector('input') ?? next.querySelector('[data-press="d"]'))?.focus({ preventScroll: true });
});
