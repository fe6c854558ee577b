import type { Sound } from './sound';

/** What is used of the browser's audio, for tests without one. */
export type Audio = Pick<
  AudioContext,
  'currentTime' | 'createOscillator' | 'createGain' | 'createStereoPanner' | 'destination'
>;

/** A note and the gap after it, seconds. */
const [noteS, gapS] = [0.1, 0.01];
/** Notes are put so far ahead into the audio's own clock: a page that is hidden is called as each reading comes, ten times a second, but its timers are not. */
const aheadS = 0.25;

/**
 * Plays an advice over and over, by the clock of the audio: whoever feeds it, a timer or the readings as they come, only has to call now and then. A new advice is
 * heard at once.
 */
export class ToneSequence {
  private nextS = 0;
  private key = '';

  constructor(private readonly audio: Audio) {}

  /** @param key what the advice is: another one is not kept waiting for the end of the last */
  feed(sound: Sound, baseHz: number, key: string): void {
    const now = this.audio.currentTime;
    if (key !== this.key) this.nextS = now;
    this.key = key;
    // After a silence nothing is made up for.
    this.nextS = Math.max(this.nextS, now);
    while (this.nextS < now + aheadS) {
      sound.notes.forEach(({ ratio, glide }, i) =>
        this.note(baseHz * ratio, glide, sound.pan, this.nextS + i * (noteS + gapS)),
      );
      this.nextS += sound.everyMs / 1000;
    }
  }

  private note(frequencyHz: number, glide: number, pan: number, at: number): void {
    const oscillator = this.audio.createOscillator();
    const gain = this.audio.createGain();
    const panner = this.audio.createStereoPanner();
    oscillator.frequency.setValueAtTime(frequencyHz, at);
    oscillator.frequency.exponentialRampToValueAtTime(frequencyHz * glide, at + noteS);
    gain.gain.setValueAtTime(0, at);
    gain.gain.linearRampToValueAtTime(0.25, at + 0.01);
    gain.gain.linearRampToValueAtTime(0, at + noteS - 0.01);
    panner.pan.value = pan;
    oscillator.connect(gain).connect(panner).connect(this.audio.destination);
    oscillator.start(at);
    oscillator.stop(at + noteS);
  }
}
