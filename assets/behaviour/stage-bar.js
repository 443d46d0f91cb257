/* On a small screen the stages are longer than the screen: the current one comes into sight. */
const showStage = () => {
    const here = document.querySelector('.stages a[aria-current]');
    const bar = here?.closest('ol');
    if (bar && bar.scrollWidth > bar.clientWidth) { bar.scrollLeft = here.offsetLeft - (bar.clientWidth - here.offsetWidth) / 2; }
};

document.addEventListener('DOMContentLoaded', showStage);
document.addEventListener('htmx:after:swap', showStage);
