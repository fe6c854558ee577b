import { useEffect, useRef } from 'react';

/** Words in a moment follow each other so fast that only the last one is worth saying, ms. */
const settleMs = 350;

/** Says an instruction aloud when it changes, in the voice of the device. */
export function useSpeech(on: boolean, words: string | null): void {
  const said = useRef<string | null>(null);
  useEffect(() => {
    if (!on) {
      said.current = null;
      return;
    }
    if (!words || words === said.current) return;
    const timer = window.setTimeout(() => {
      said.current = words;
      window.speechSynthesis.cancel();
      const utterance = new SpeechSynthesisUtterance(words);
      utterance.lang = 'en';
      window.speechSynthesis.speak(utterance);
    }, settleMs);
    return () => window.clearTimeout(timer);
  }, [on, words]);
}

/** Whether this browser can speak at all. */
export const canSpeak = (): boolean => 'speechSynthesis' in window;
