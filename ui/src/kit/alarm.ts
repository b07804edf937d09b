/** A short tone and a buzz, where the device allows them. */
let sound: AudioContext | undefined;

export function alarm(times: number) {
  // A browser lets only a page that was touched shake the device.
  if (navigator.userActivation?.hasBeenActive ?? true) navigator.vibrate?.(Array.from({ length: times * 2 - 1 }, () => 220));
  try {
    sound ??= new AudioContext();
    for (let i = 0; i < times; i++) {
      const at = sound.currentTime + i * 0.4;
      const tone = sound.createOscillator();
      const loud = sound.createGain();
      tone.frequency.value = 880;
      loud.gain.setValueAtTime(0.25, at);
      loud.gain.exponentialRampToValueAtTime(0.001, at + 0.3);
      tone.connect(loud).connect(sound.destination);
      tone.start(at);
      tone.stop(at + 0.3);
    }
  } catch {
    // no sound here: the screen still says it
  }
}
