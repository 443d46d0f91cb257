/* Two short tones. Where the browser has no sound, or nobody touched the page yet, what is shown has to do alone. */
export const ring = () => {
    const Sound = window.AudioContext || window.webkitAudioContext;
    if (!Sound) { return; }
    try {
        const sound = new Sound();
        for (const at of [0, 0.25]) {
            const tone = sound.createOscillator();
            const level = sound.createGain();
            tone.frequency.value = 880;
            level.gain.value = 0.08;
            tone.connect(level);
            level.connect(sound.destination);
            tone.start(sound.currentTime + at);
            tone.stop(sound.currentTime + at + 0.15);
        }
    } catch { /* the page shows it */ }
};
