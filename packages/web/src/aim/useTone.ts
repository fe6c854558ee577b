import type { Advice } from '@kivram/core';
import { useEffect, useRef } from 'react';

/** What a beep says: pitch rises with the level; the pattern tells what to do. */
function pattern(advice: Advice): { beeps: number[]; everyMs: number } {
  switch (advice.action) {
    case 'past':
    case 'turnBack':
      return { beeps: [1.5, 1], everyMs: 700 }; // two falling notes: it was behind you
    case 'comeBack':
      return { beeps: [1], everyMs: 120 + 900 * Math.min(1, (advice.remainingDeg ?? 3) / 5) }; // faster as it comes near
    case 'stop':
      return { beeps: [2, 2, 2], everyMs: 1500 };
    case 'hold':
    case 'readAgain':
      return { beeps: [], everyMs: 1000 };
    case 'lock':
    case 'done':
      return { beeps: [1, 1.26, 1.5, 2], everyMs: 2500 };
    default:
      return { beeps: [1], everyMs: 450 };
  }
}

/** Sounds the advice, so that the eyes can stay on the bolt. */
export function useTone(on: boolean, advice: Advice | null, shortDb: number | null): void {
  const current = useRef({ advice, shortDb });
  useEffect(() => {
    current.current = { advice, shortDb };
  });
  useEffect(() => {
    if (!on) return;
    const audio = new AudioContext();
    let timer: number;
    const sound = (): void => {
      const { advice: now, shortDb: short } = current.current;
      const { beeps, everyMs } = now ? pattern(now) : { beeps: [], everyMs: 500 };
      // One semitone a decibel, 880 Hz at the predicted level.
      const baseHz = 880 * 2 ** (-Math.min(24, Math.max(-3, short ?? 24)) / 12);
      beeps.forEach((ratio, i) => beep(audio, baseHz * ratio, audio.currentTime + i * 0.11));
      timer = window.setTimeout(sound, everyMs);
    };
    sound();
    return () => {
      window.clearTimeout(timer);
      void audio.close();
    };
  }, [on]);
}

function beep(audio: AudioContext, frequencyHz: number, at: number): void {
  const oscillator = audio.createOscillator();
  const gain = audio.createGain();
  oscillator.frequency.value = frequencyHz;
  gain.gain.setValueAtTime(0, at);
  gain.gain.linearRampToValueAtTime(0.25, at + 0.01);
  gain.gain.linearRampToValueAtTime(0, at + 0.09);
  oscillator.connect(gain).connect(audio.destination);
  oscillator.start(at);
  oscillator.stop(at + 0.1);
}
