/* A photo is made smaller before it goes over a slow network, and loses its metadata here already. */
const WIDEST = 1600;

const shrink = async (file) => {
    const picture = await window.createImageBitmap(file, { imageOrientation: 'from-image' });
    const scale = Math.min(1, WIDEST / Math.max(picture.width, picture.height));
    const canvas = document.createElement('canvas');
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext('2d').drawImage(picture, 0, 0, canvas.width, canvas.height);
    return new Promise((resolve) => { canvas.toBlob(resolve, 'image/jpeg', 0.85); });
};

const photo = () => ({
    async smaller() {
        const field = this.$el;
        const file = field.files[0];
        if (!file || !window.createImageBitmap || !window.DataTransfer) { return; }
        /* What is no picture goes as it is: the server says so. */
        const blob = await shrink(file).catch(() => null);
        if (!blob || field.files[0] !== file) { return; }
        const files = new window.DataTransfer();
        files.items.add(new window.File([blob], 'photo.jpg', { type: 'image/jpeg' }));
        field.files = files.files;
    },
});

document.addEventListener('alpine:init', () => { Alpine.data('photo', photo); });
