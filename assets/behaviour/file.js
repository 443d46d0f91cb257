/* A file is read into the text field that it belongs to: it is seen, and can be corrected, before it is sent. */
const LARGEST = 8_000_000;

/* Spreadsheets save CSV in UTF-8 with a byte-order mark, or in the code page of the system. */
const decode = (bytes) => {
    try {
        return new window.TextDecoder('utf-8', { fatal: true }).decode(bytes);
    } catch {
        return new window.TextDecoder('windows-1252').decode(bytes);
    }
};

const read = async (input, file) => {
    const status = document.getElementById(`${input.dataset.into}-status`);
    input.value = '';
    if (file.size > LARGEST) {
        status.textContent = input.dataset.large;
        return;
    }
    const text = decode(await file.arrayBuffer());
    const field = document.getElementById(input.dataset.into);
    /* What a file before brought is replaced; what was typed stays above. */
    const typed = field.value === input.fromFile ? '' : field.value.trimEnd();
    field.value = typed === '' ? text : `${typed}\n${text}`;
    input.fromFile = field.value;
    status.textContent = file.name;
    field.dispatchEvent(new window.Event('input', { bubbles: true }));
};

document.addEventListener('change', (event) => {
    const input = event.target;
    if (input instanceof window.HTMLInputElement && input.dataset.into && input.files[0]) { read(input, input.files[0]); }
});
