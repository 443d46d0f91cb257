/* Runs before the first paint: which look, and that scripts run at all. */
(function () {
    var look = null;
    try { look = localStorage.getItem('look'); } catch (e) { /* private window: the system decides */ }
    if (!look) { look = matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day'; }
    document.documentElement.dataset.look = look;
    document.documentElement.classList.remove('no-script');
})();
