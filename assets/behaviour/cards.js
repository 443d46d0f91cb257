/* Cards of the jobs page whose figures are made after the page is there, one after the other. */
document.addEventListener('DOMContentLoaded', async () => {
    for (const card of document.querySelectorAll('[data-card]')) {
        const answer = await fetch(card.dataset.card, { credentials: 'same-origin' }).catch(() => null);
        if (answer && answer.ok && !answer.redirected) { card.outerHTML = await answer.text(); }
    }
});
