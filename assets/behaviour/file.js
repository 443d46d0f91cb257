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

document.addEventListener('change', async (event) => {
    const input = event.target;
    if (!(input instanceof window.HTMLInputElement) || !input.dataset.into || !input.files[0]) { return; }
    const [file] = input.files;
    const told = document.getElementById(`${input.dataset.into}-told`);
    if (file.size > LARGEST) {
        told.textContent = input.dataset.large;
        input.value = '';
        return;
    }
    const field = document.getElementById(input.dataset.into);
    field.value = decode(await file.arrayBuffer());
    told.textContent = file.name;
    input.value = '';
    field.dispatchEvent(new window.Event('input', { bubbles: true }));
});
