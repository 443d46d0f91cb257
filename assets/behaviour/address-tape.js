/* Pins of the address tape: dragged along, or moved with Alt and an arrow key, and saved where they are dropped or where one types. */
const WIDTH = 1000;
let held = null;

const toText = (number) => [24, 16, 8, 0].map((bits) => Math.floor(number / 2 ** bits) % 256).join('.');
const toNumber = (address) => address.split('.').reduce((sum, part) => sum * 256 + Number(part), 0);
const pinOf = (event) => event.target.closest?.('a[data-nic]');

/** Moves the pin and fills in the form that asks whether to save it there. */
const propose = (pin, number) => {
    const tape = pin.closest('svg');
    const from = Number(tape.dataset.from);
    const count = Number(tape.dataset.count);
    const to = Math.max(from, Math.min(from + count - 1, number));
    const form = tape.parentNode.querySelector('form.moved');
    form.elements.record.value = `settings/${pin.dataset.nic}#address`;
    form.elements.before.value = pin.dataset.address;
    form.elements.value.value = toText(to);
    form.querySelector('[data-tag]').textContent = pin.dataset.tag;
    form.querySelector('[data-was]').textContent = pin.dataset.address;
    form.hidden = false;
    pin.setAttribute('transform', `translate(${(to - toNumber(pin.dataset.address)) * WIDTH / count} 0)`);
    pin.dataset.at = to;
};

document.addEventListener('pointerdown', (event) => {
    const pin = pinOf(event);
    if (!pin || event.button !== 0) { return; }
    const tape = pin.closest('svg');
    const scale = Number(tape.dataset.count) / (tape.getBoundingClientRect().width * WIDTH / 1012);
    held = { pin, x: event.clientX, scale, moved: false };
});

document.addEventListener('pointermove', (event) => {
    if (!held || (!held.moved && Math.abs(event.clientX - held.x) < 5)) { return; }
    held.moved = true;
    propose(held.pin, toNumber(held.pin.dataset.address) + Math.round((event.clientX - held.x) * held.scale));
});

document.addEventListener('pointerup', () => {
    if (held?.moved) {
        held.pin.closest('svg').parentNode.querySelector('form.moved').elements.value.focus();
        /* What follows is a click on the link that was dragged. */
        document.addEventListener('click', (event) => { event.preventDefault(); event.stopPropagation(); }, { capture: true, once: true });
    }
    held = null;
});

document.addEventListener('dragstart', (event) => { if (pinOf(event)) { event.preventDefault(); } });

document.addEventListener('keydown', (event) => {
    const pin = pinOf(event);
    if (!pin || !event.altKey || !['ArrowLeft', 'ArrowRight'].includes(event.key)) { return; }
    event.preventDefault();
    propose(pin, Number(pin.dataset.at || toNumber(pin.dataset.address)) + (event.key === 'ArrowLeft' ? -1 : 1));
});

document.addEventListener('reset', (event) => {
    if (!event.target.matches('form.moved')) { return; }
    event.target.hidden = true;
    for (const pin of event.target.parentNode.querySelectorAll('a[data-nic]')) {
        pin.removeAttribute('transform');
        delete pin.dataset.at;
    }
});
