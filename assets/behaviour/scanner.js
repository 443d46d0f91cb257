/* A scanner ends each code like a line: on a sheet that goes on to the next field that is read, and from the last one to the button. */
document.addEventListener('keydown', (event) => {
    const sheet = event.key === 'Enter' && event.target.closest?.('.reads');
    if (!sheet) { return; }
    event.preventDefault();
    const fields = [...sheet.querySelectorAll('input')];
    const next = fields[fields.indexOf(event.target) + 1] || event.target.form.querySelector('button[value=done]');
    next?.focus();
});
