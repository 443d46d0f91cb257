/* A value that goes into a device: one press and it is in the clipboard. */
const copy = () => ({
    async take() {
        const button = this.$el;
        if (!navigator.clipboard) { return; }
        try {
            await navigator.clipboard.writeText(button.dataset.copy);
        } catch { return; }
        button.dataset.done = '1';
        setTimeout(() => { delete button.dataset.done; }, 1200);
    },
});

document.addEventListener('alpine:init', () => { Alpine.data('copy', copy); });
