/* Runs before the first paint: day or night, and that scripts run at all. */
(() => {
    let look = null;
    try { look = localStorage.getItem('look'); } catch { /* private window: the system decides */ }
    look ??= matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day';
    document.documentElement.dataset.look = look;
    document.documentElement.classList.remove('no-script');
})();
