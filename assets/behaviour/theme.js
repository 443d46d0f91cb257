/* Day or night, kept in this browser. */
const look = () => ({
    turn() {
        const root = document.documentElement;
        root.dataset.look = root.dataset.look === 'night' ? 'day' : 'night';
        try { localStorage.setItem('look', root.dataset.look); } catch { /* a private window: until the page is left */ }
    },
});

document.addEventListener('alpine:init', () => { Alpine.data('look', look); });
